package dev.admit.core.registration;

import com.nimbusds.jose.jwk.JWKSet;
import dev.admit.contract.TrustedIssuerWanted;
import dev.admit.core.change.Fields;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.trust.TheirKey;
import dev.admit.core.trust.TrustedIssuer;
import java.net.URI;
import java.text.ParseException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Reads a trusted issuer as it is wanted, and says what cannot be taken. */
final class TrustReading {
    static final List<SigningAlgorithm> USUAL_ALGORITHMS =
            List.of(SigningAlgorithm.ES256, SigningAlgorithm.RS256, SigningAlgorithm.PS256, SigningAlgorithm.EDDSA);
    private static final Set<String> LOOPBACK = Set.of("127.0.0.1", "[::1]", "localhost");
    private static final int LONGEST_JWKS = 64 * 1024;
    private static final int MOST = 1_000;

    private final Issuer issuer;
    private final Clients clients;
    private final Fields fields = new Fields();

    TrustReading(Issuer issuer, Clients clients) {
        this.issuer = issuer;
        this.clients = clients;
    }

    Fields fields() {
        return fields;
    }

    /**
     * @param old what stays where nothing is said; without an address and keys for one that is new.
     * @return empty when {@link #fields} has faults
     */
    @SuppressWarnings("NullAway") // what is read is whole when no field has a fault, and only then leaves here
    Optional<TrustedIssuer> read(TrustedIssuerWanted wanted, TrustedIssuer old) {
        String url = wanted.url() == null && !old.url().isEmpty()
                ? old.url()
                : address("/url", wanted.url()).map(URI::toString).orElse("");
        if (url.equals(issuer.url().toString()))
            fields.fault("/url", "another issuer", "this one", "Its own tokens are taken as they are.");
        TrustedIssuer.Keys keys = keys(wanted, old, url);
        TrustedIssuer it = new TrustedIssuer(
                old.id(),
                old.issuerId(),
                old.name(),
                url,
                keys,
                algorithms(wanted.algorithms(), old.algorithms()),
                types(wanted.types(), old.types()),
                wanted.audience() == null
                        ? old.audience()
                        : Optional.of(fields.line("/audience", wanted.audience(), "", Fields.URI_LENGTH))
                                .filter(text -> !text.isEmpty()),
                new TrustedIssuer.Claims(
                        claim("/scope_claim", wanted.scopeClaim(), old.claims().scope()),
                        claim("/roles_claim", wanted.rolesClaim(), old.claims().roles()),
                        claim(
                                "/person_claim",
                                wanted.personClaim(),
                                old.claims().person()),
                        claim(
                                "/client_claim",
                                wanted.clientClaim(),
                                old.claims().client())),
                wanted.scopes() == null ? old.scopes() : scopes(wanted.scopes()),
                wanted.clients() == null ? old.clients() : linked(wanted.clients()),
                old.version() + 1,
                old.createdAt());
        return fields.faulty() ? Optional.empty() : Optional.of(it);
    }

    /** https, or http on loopback. */
    private Optional<URI> address(String pointer, @Nullable String value) {
        Optional<URI> uri = fields.absoluteUri(pointer, value);
        if (uri.isEmpty()) return uri;
        boolean loopback =
                uri.get().getHost() != null && LOOPBACK.contains(uri.get().getHost());
        boolean safe =
                "https".equals(uri.get().getScheme()) || "http".equals(uri.get().getScheme()) && loopback;
        if (safe && uri.get().getRawUserInfo() == null) return uri;
        fields.fault(
                pointer,
                "an https address without a login; plain http on loopback alone",
                Fields.quoted(value),
                "Keys that come another way could be anybody's.");
        return Optional.empty();
    }

    @SuppressWarnings("NullAway") // what is read is whole when no field has a fault, and only then leaves here
    private TrustedIssuer.@Nullable Keys keys(TrustedIssuerWanted wanted, TrustedIssuer old, String url) {
        String[] said = {wanted.metadata(), wanted.jwksUri(), wanted.jwks()};
        long many = java.util.Arrays.stream(said)
                .filter(it -> it != null && !it.isBlank())
                .count();
        if (many > 1) fields.fault("/metadata", "one of metadata, jwks_uri and jwks", many + " of them", "Say one.");
        if (many == 0
                && old.keys() != null
                && !(old.keys() instanceof TrustedIssuer.Keys.InMetadata && !url.equals(old.url()))) return old.keys();
        if (wanted.jwksUri() != null && !wanted.jwksUri().isBlank())
            return address("/jwks_uri", wanted.jwksUri())
                    .<TrustedIssuer.Keys>map(TrustedIssuer.Keys.At::new)
                    .orElse(null);
        if (wanted.jwks() != null && !wanted.jwks().isBlank()) return pasted(wanted.jwks());
        String metadata = wanted.metadata() != null && !wanted.metadata().isBlank()
                ? wanted.metadata()
                : url.isEmpty() ? "" : url.replaceAll("/+$", "") + "/.well-known/openid-configuration";
        return metadata.isEmpty()
                ? null
                : address("/metadata", metadata)
                        .<TrustedIssuer.Keys>map(TrustedIssuer.Keys.InMetadata::new)
                        .orElse(null);
    }

    private TrustedIssuer.@Nullable Keys pasted(String jwks) {
        if (jwks.length() > LONGEST_JWKS)
            fields.fault(
                    "/jwks",
                    "at most " + LONGEST_JWKS + " characters",
                    jwks.length() + " characters",
                    "Give its address instead.");
        try {
            if (jwks.length() <= LONGEST_JWKS
                    && TheirKey.in(jwks, USUAL_ALGORITHMS).isEmpty())
                fields.fault(
                        "/jwks",
                        "a key set with a public key for ES256, RS256, PS256 or EdDSA",
                        "one without",
                        "Paste the whole JWK Set.");
            return new TrustedIssuer.Keys.Pasted(
                    fields.faulty() ? "" : JWKSet.parse(jwks).toPublicJWKSet().toString()); // never a private half
        } catch (ParseException none) {
            fields.fault("/jwks", "a JWK Set", "something else", "Paste the whole JWK Set, as its jwks_uri has it.");
            return null;
        }
    }

    private List<SigningAlgorithm> algorithms(@Nullable List<String> wanted, List<SigningAlgorithm> old) {
        if (wanted == null) return old;
        List<SigningAlgorithm> chosen = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++)
            fields.word("/algorithms/" + i, wanted.get(i), SigningAlgorithm.class, null)
                    .filter(it -> !chosen.contains(it))
                    .ifPresent(chosen::add);
        return chosen.isEmpty() ? USUAL_ALGORITHMS : chosen;
    }

    private List<String> types(@Nullable List<String> wanted, List<String> old) {
        if (wanted == null || wanted.isEmpty()) return old;
        List<String> types = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++)
            types.add(fields.line("/types/" + i, wanted.get(i), null, Fields.NAME_LENGTH)
                    .toLowerCase(Locale.ROOT)
                    .replaceFirst("^application/", ""));
        if (types.contains("none") || types.contains("jwt"))
            fields.note("An ID token of this issuer may have the type %s too: only the audience tells them apart."
                    .formatted(types.contains("jwt") ? "JWT" : "none"));
        return types.stream().distinct().toList();
    }

    private String claim(String pointer, @Nullable String wanted, String old) {
        return wanted == null ? old : fields.line(pointer, wanted, null, Fields.TEXT_LENGTH);
    }

    private Map<String, String> scopes(Map<String, String> wanted) {
        Map<String, String> scopes = new LinkedHashMap<>();
        if (wanted.size() > MOST) fields.fault("/scopes", "at most " + MOST, wanted.size() + " of them", "Name fewer.");
        wanted.forEach((theirs, ours) -> scopes.put(
                fields.line("/scopes", theirs, null, Fields.TEXT_LENGTH),
                fields.line("/scopes/" + theirs, ours, null, Fields.TEXT_LENGTH)));
        return scopes;
    }

    private Map<String, String> linked(Map<String, String> wanted) {
        Map<String, String> linked = new LinkedHashMap<>();
        if (wanted.size() > MOST)
            fields.fault("/clients", "at most " + MOST, wanted.size() + " of them", "Name fewer.");
        wanted.forEach((theirs, ours) -> {
            Optional<Client> client = ours == null ? Optional.empty() : clients.named(issuer.id(), ours.strip());
            if (client.isEmpty())
                fields.fault(
                        "/clients/" + theirs,
                        "a client of this issuer",
                        ours == null ? "nothing" : Fields.quoted(ours),
                        "List them with: admit client list");
            else
                linked.put(
                        fields.line("/clients", theirs, null, Fields.TEXT_LENGTH),
                        client.get().id());
        });
        return linked;
    }
}
