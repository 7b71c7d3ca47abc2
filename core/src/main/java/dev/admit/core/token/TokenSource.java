package dev.admit.core.token;

import dev.admit.core.key.IssuerKeys;

/** Whose tokens are meant. @param url the issuer identifier as tokens carry it */
public record TokenSource(String issuerId, String url, IssuerKeys keys) {}
