package dev.admit.core.approval;

import java.time.Instant;

/**
 * What a person approved for themselves: that a client may act for them with a scope.
 *
 * @param scope of an API, or one of the issuer's own
 */
public record PersonalApproval(String issuerId, String personId, String clientId, String scope, Instant grantedAt) {}
