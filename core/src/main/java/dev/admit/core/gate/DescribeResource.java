package dev.admit.core.gate;

import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.Configuration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Scope;
import java.net.URI;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * Metadata of protected resources (RFC 9728 §2), for APIs whose audience is the address that they are called at: a
 * client must reject any other (§3.3).
 */
public final class DescribeResource {
    public static final String WELL_KNOWN = "/.well-known/oauth-protected-resource";
    private final Supplier<Configuration> configuration;

    public DescribeResource(Supplier<Configuration> configuration) {
        this.configuration = configuration;
    }

    /**
     * @param authority host and port that the request is for
     * @param path behind the well-known part; empty for none
     * @return empty where no API is called there
     */
    public Optional<Map<String, Object>> at(String authority, String path) {
        for (CompiledIssuer issuer : configuration.get().issuersByName().values()) {
            for (Api api : issuer.apisById().values()) {
                if (calledAt(api)
                        .filter(it -> it.getRawAuthority().equalsIgnoreCase(authority)
                                && it.getRawPath().equals(path))
                        .isPresent()) return Optional.of(described(issuer, api));
            }
        }
        return Optional.empty();
    }

    /** Where the metadata of an API is, when it is called at its audience by this request (RFC 9728 §3.1, §5.1). */
    public static Optional<String> metadataOf(Api api, String authority, String path) {
        return calledAt(api)
                .filter(it -> it.getRawAuthority().equalsIgnoreCase(authority)
                        && (path.equals(it.getRawPath())
                                || path.startsWith(it.getRawPath().replaceAll("/$", "") + "/")))
                .map(it -> it.getScheme() + "://" + it.getRawAuthority() + WELL_KNOWN + it.getRawPath());
    }

    private static Optional<URI> calledAt(Api api) {
        if (!api.audience().startsWith("https://") && !api.audience().startsWith("http://")) return Optional.empty();
        try {
            URI audience = URI.create(api.audience());
            boolean usable = audience.getRawAuthority() != null
                    && audience.getRawPath() != null
                    && audience.getRawQuery() == null;
            return usable ? Optional.of(audience) : Optional.empty();
        } catch (IllegalArgumentException notOne) {
            return Optional.empty();
        }
    }

    private static Map<String, Object> described(CompiledIssuer issuer, Api api) {
        Map<String, Object> metadata = new LinkedHashMap<>();
        metadata.put("resource", api.audience());
        metadata.put("authorization_servers", List.of(issuer.url()));
        List<String> scopes = issuer.scopesByName().values().stream()
                .filter(it -> it.apiId().equals(api.id()) && it.listed() && it.status() != Scope.Status.DRAFT)
                .map(Scope::name)
                .sorted()
                .toList();
        if (!scopes.isEmpty())
            metadata.put("scopes_supported", scopes); // RFC 9728 §2: a member without values is left out
        metadata.put("bearer_methods_supported", List.of("header"));
        metadata.put("resource_name", api.title());
        return metadata;
    }
}
