package dev.admit.core.configuration;

import dev.admit.core.key.IssuerKeys;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import java.util.Map;

/** One issuer with what token requests ask of it. @param url the issuer identifier as tokens carry it */
public record IssuerInForce(Issuer issuer, String url, IssuerKeys keys, Map<String, Api> apisById,
                            Map<String, Api> apisByAudience, Map<String, Scope> scopesByName) {}
