package dev.admit.core.selfregistration;

import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Scope;
import java.net.URI;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What a client may be that registers itself.
 *
 * @param kinds empty for those that act for people
 * @param grantTypes empty for all that the issuer has
 * @param scopes empty for those that people approve for themselves
 * @param redirectDomains of the hosts of redirect URIs, each for what lies beneath it too; empty for any
 */
public record Limits(
        List<ClientKind> kinds, List<String> grantTypes, List<String> scopes, List<String> redirectDomains) {
    public static final Limits USUAL = new Limits(List.of(), List.of(), List.of(), List.of());

    boolean allows(ClientKind kind) {
        return kinds.isEmpty() ? kind.forPeople() : kinds.contains(kind);
    }

    boolean allowsGrantType(String type) {
        return grantTypes.isEmpty() || grantTypes.contains(type);
    }

    /** A scope that is not listed is told to nobody, unless it is named here. */
    boolean allows(Scope scope) {
        return scopes.isEmpty()
                ? scope.listed() && scope.approver() == Scope.Approver.PERSON
                : scopes.contains(scope.name());
    }

    /** A loopback address and an application's own scheme have no domain: they stay on the person's machine. */
    boolean allowsRedirect(String redirect) {
        if (redirectDomains.isEmpty()) return true;
        Optional<String> host = hostOf(redirect);
        return host.isEmpty()
                || redirectDomains.stream()
                        .anyMatch(it -> host.get().equals(it) || host.get().endsWith("." + it));
    }

    private static Optional<String> hostOf(String redirect) {
        URI uri = URI.create(redirect);
        boolean web = uri.getScheme() != null && uri.getScheme().matches("(?i)https?");
        if (!web) return Optional.empty();
        String host = uri.getHost() == null ? "" : uri.getHost().toLowerCase(Locale.ROOT);
        boolean loopback = host.equals("localhost") || host.equals("127.0.0.1") || host.equals("[::1]");
        return loopback ? Optional.empty() : Optional.of(host);
    }
}
