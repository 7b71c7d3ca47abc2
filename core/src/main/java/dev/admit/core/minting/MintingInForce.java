package dev.admit.core.minting;

import dev.admit.core.change.Fields;
import dev.admit.core.expression.Expression;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Minting;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** An API's minting, its expressions ready to run. */
public final class MintingInForce {
    private final Api api;
    private final List<ClaimExpression> claims;

    /** What holds where no exception does: for most tokens, so it is made once. */
    private final Applied usual;

    private MintingInForce(Api api, List<ClaimExpression> claims) {
        this.api = api;
        this.claims = claims;
        this.usual = applied(List.of());
    }

    /** @throws IllegalStateException when an expression that was taken once is none any more */
    public static MintingInForce of(Api api) {
        List<ClaimExpression> claims = new ArrayList<>();
        for (Minting.ExtraClaim claim : api.minting().claims()) {
            try {
                claims.add(ClaimExpression.read(claim.name(), claim.expression()));
            } catch (Expression.Senseless broken) {
                throw new IllegalStateException(
                        "the claim %s of the API %s: %s".formatted(claim.name(), api.name(), broken.getMessage()),
                        broken);
            }
        }
        return new MintingInForce(api, List.copyOf(claims));
    }

    /**
     * What holds for one client and grant type.
     *
     * @param without names of claims that are left out
     * @param why where each value comes from, as sentences
     */
    public record Applied(
            Duration lifetime,
            Minting.Format format,
            Set<String> without,
            Duration refreshIdleTimeout,
            Duration maxRefreshAge,
            List<String> why) {
        /** The sentences as one text. */
        public String reasons() {
            return String.join(" ", why);
        }
    }

    /** The strictest of the API's values and every exception that applies. */
    public Applied applied(Client client, String grantType) {
        List<Minting.Exempt> applying = api.minting().exceptions().stream()
                .filter(exception -> exception.appliesTo(client, grantType))
                .toList();
        return applying.isEmpty() ? usual : applied(applying);
    }

    private Applied applied(List<Minting.Exempt> applying) {
        Minting minting = api.minting();
        Duration lifetime = minting.lifetime();
        Minting.Format format = minting.format();
        Set<String> without = new LinkedHashSet<>();
        List<String> why = new ArrayList<>();
        Duration refreshIdleTimeout = minting.refreshIdleTimeout();
        Duration maxRefreshAge = minting.maxRefreshAge();
        String lifetimeFrom = "the API";
        String formatFrom = "the API";
        for (Minting.Exempt exception : applying) {
            if (exception.lifetime().isPresent() && exception.lifetime().get().compareTo(lifetime) < 0) {
                lifetime = exception.lifetime().get();
                lifetimeFrom = "the exception " + exception.name();
            }
            if (exception.format().filter(it -> it == Minting.Format.OPAQUE).isPresent()
                    && format == Minting.Format.JWT) {
                format = Minting.Format.OPAQUE;
                formatFrom = "the exception " + exception.name();
            }
            if (exception.refreshIdleTimeout().isPresent()
                    && exception.refreshIdleTimeout().get().compareTo(refreshIdleTimeout) < 0) {
                refreshIdleTimeout = exception.refreshIdleTimeout().get();
                why.add("Refresh tokens idle for %s at most, by the exception %s."
                        .formatted(Fields.written(refreshIdleTimeout), exception.name()));
            }
            if (exception.maxRefreshAge().isPresent()
                    && exception.maxRefreshAge().get().compareTo(maxRefreshAge) < 0) {
                maxRefreshAge = exception.maxRefreshAge().get();
                why.add("Refreshed for %s at most, by the exception %s."
                        .formatted(Fields.written(maxRefreshAge), exception.name()));
            }
            for (String claim : exception.without()) {
                if (without.add(claim))
                    why.add("Without the claim %s, by the exception %s.".formatted(claim, exception.name()));
            }
        }
        why.addFirst("Format %s, from %s.".formatted(format, formatFrom));
        why.addFirst("Lifetime %s, from %s.".formatted(Fields.written(lifetime), lifetimeFrom));
        return new Applied(lifetime, format, Set.copyOf(without), refreshIdleTimeout, maxRefreshAge, List.copyOf(why));
    }

    /**
     * @param person empty for a client on its own; then what looks at a person is left out.
     * @throws Expression.Senseless when one comes to nothing that a claim can hold
     */
    public Map<String, Object> claims(
            Applied applied,
            Client client,
            List<String> scopes,
            String grantType,
            Map<String, Object> person,
            Instant now)
            throws Expression.Senseless {
        Map<String, Object> values = new LinkedHashMap<>();
        for (ClaimExpression claim : claims) {
            if (applied.without().contains(claim.claim()) || claim.isOfPerson() && person.isEmpty()) continue;
            values.put(claim.claim(), claim.on(client, api, scopes, grantType, person, now));
        }
        return values;
    }
}
