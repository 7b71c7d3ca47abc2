package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What a client may be that registers itself.
 *
 * @param kinds of clients; empty for those that act for people
 * @param grantTypes that it may use; empty for all that the issuer has
 * @param scopes that it may request; empty for those that people approve for themselves
 * @param redirectDomains in which its redirect URIs lie, each with what lies beneath; empty for any. Loopback addresses
 *     and an application's own scheme are always taken
 */
public record RegistrationLimits(
        @Nullable List<String> kinds,
        @JsonProperty("grant_types") @Nullable List<String> grantTypes,
        @Nullable List<String> scopes,
        @JsonProperty("redirect_domains") @Nullable List<String> redirectDomains) {}
