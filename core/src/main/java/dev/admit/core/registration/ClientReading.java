package dev.admit.core.registration;

import com.nimbusds.jose.jwk.JWK;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.OctetSequenceKey;
import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.contract.ClientWanted;
import dev.admit.core.authorize.IdentityScopes;
import dev.admit.core.change.Fields;
import dev.admit.core.decision.Command;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAddresses;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Issuer;
import java.net.URI;
import java.text.ParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;

/** Reads a client as it is wanted into one that holds together: kind, proof and addresses fit each other. */
final class ClientReading {
    private static final Set<String> IDENTITY_SCOPES = IdentityScopes.all();
    private static final List<String> USUAL_IDENTITY = List.of("openid", "profile", "email");
    private static final Pattern TAG = Pattern.compile("[a-z0-9]+(-[a-z0-9]+)*");
    private static final int MOST_OF_EACH = 20;
    private static final int MOST_KEYS = 10;
    private static final int LONGEST_JWKS = 20_000;

    private final Fields fields = new Fields();
    private final Issuer issuer;
    private final Set<String> grantTypes;

    ClientReading(Issuer issuer, Set<String> grantTypes) {
        this.issuer = issuer;
        this.grantTypes = grantTypes;
    }

    Fields fields() {
        return fields;
    }

    /**
     * @param old what stays where nothing is wanted.
     * @return the client; of no use when {@link Fields#faulty}
     */
    Client read(ClientWanted wanted, Client old) {
        String name = wanted.name() == null && !old.name().isEmpty() ? old.name() : fields.name("/name", wanted.name());
        ClientKind kind = fields.word("/kind", wanted.kind(), ClientKind.class, old.kind())
                .orElse(old.kind());
        Client.Proof proof = readProof(wanted, kind, old);
        Client.Addresses addresses = new ClientAddresses(
                        fields, kind, issuer.settings().loopbackRedirects())
                .read(wanted.redirectUris(), wanted.origins(), old.addresses());
        List<String> identity = readIdentity(wanted, kind, old);
        Client read = new Client(
                old.id(),
                issuer.id(),
                name,
                kind,
                readTexts(wanted, name, old.texts()),
                proof,
                addresses,
                readGrantTypes(wanted, kind, old),
                identity,
                readPeople(wanted, kind, old.people(), old.people().openidGranted()),
                readIntrospects(wanted, kind, old),
                old.enabled(),
                old.version() + 1,
                old.createdAt(),
                old.selfRegistered());
        return openidStaysGranted(old, read) ? read : read.withOpenidNotGranted();
    }

    private boolean readIntrospects(ClientWanted wanted, ClientKind kind, Client old) {
        boolean may = wanted.mayIntrospect() == null ? old.mayIntrospect() : wanted.mayIntrospect();
        if (!may || kind.confidential()) return may;
        // RFC 7662 §2.1: the one who has no credential could try tokens out.
        if (wanted.mayIntrospect() != null)
            fields.fault(
                    "/may_introspect",
                    "false for kind %s, which has no credential".formatted(kind),
                    "true",
                    "Register a client of kind machine or web for it.");
        return false;
    }

    /**
     * What an administrator approved was these scopes and, where a client runs Admit with them, a client that proves
     * itself so and is reached there.
     */
    private boolean openidStaysGranted(Client old, Client read) {
        if (!old.people().openidGranted()) return true;
        if (read.openidScopes().isEmpty()) return false; // of nothing nothing is approved
        boolean runsAdmit = read.openidScopes().stream().anyMatch(IdentityScopes::needsAdministrator);
        boolean sameClient = read.kind() == old.kind()
                && read.proof().equals(old.proof())
                && read.addresses().equals(old.addresses())
                && read.usableGrantTypes().equals(old.usableGrantTypes());
        boolean stays = old.openidScopes().containsAll(read.openidScopes()) && (!runsAdmit || sameClient);
        if (!stays)
            fields.note("What it may know of people was approved for what it was before. Approve it again with: "
                    + Command.of("approval", "openid", read.name()));
        return stays;
    }

    private Client.People readPeople(ClientWanted wanted, ClientKind kind, Client.People old, boolean openidGranted) {
        boolean secondFactor = wanted.secondFactor() == null ? old.secondFactor() : wanted.secondFactor();
        Optional<SigningAlgorithm> algorithm = wanted.idTokenSignedResponseAlg() == null
                ? old.idTokenSignedResponseAlg()
                : wanted.idTokenSignedResponseAlg().isBlank()
                        ? Optional.empty()
                        : fields.word(
                                "/id_token_signed_response_alg",
                                wanted.idTokenSignedResponseAlg(),
                                SigningAlgorithm.class,
                                null);
        List<String> postLogoutRedirectUris = wanted.postLogoutRedirectUris() == null
                ? old.postLogoutRedirectUris()
                : new ClientAddresses(fields, kind, issuer.settings().loopbackRedirects())
                        .readAfterSignOut(wanted.postLogoutRedirectUris());
        return new Client.People(openidGranted, secondFactor, algorithm, postLogoutRedirectUris);
    }

    private Client.Texts readTexts(ClientWanted wanted, String name, Client.Texts old) {
        String clientName = wanted.clientName() == null && !old.clientName().isEmpty()
                ? old.clientName()
                : fields.line("/client_name", wanted.clientName(), name, Fields.TEXT_LENGTH);
        String description = wanted.description() == null
                ? old.description()
                : fields.line("/description", wanted.description(), "", Fields.LONG_TEXT_LENGTH);
        List<String> contacts = wanted.contacts() == null
                ? old.contacts()
                : each("/contacts", wanted.contacts(), (pointer, text) -> {
                    String line = fields.line(pointer, text, null, Fields.TEXT_LENGTH);
                    return line.isEmpty() ? Optional.empty() : Optional.of(line);
                });
        List<URI> links = wanted.links() == null ? old.links() : each("/links", wanted.links(), this::readLink);
        List<String> tags = wanted.tags() == null
                ? old.tags()
                : each("/tags", wanted.tags(), (pointer, text) -> readTag(fields, pointer, text));
        return new Client.Texts(clientName, description, contacts, links, tags);
    }

    private Optional<URI> readLink(String pointer, String text) {
        Optional<URI> uri = fields.absoluteUri(pointer, text);
        if (uri.isPresent() && !Set.of("https", "http").contains(uri.get().getScheme())) {
            fields.fault(pointer, "an http or https address", Fields.quoted(text), "Link to a page.");
        }
        return uri;
    }

    static Optional<String> readTag(Fields fields, String pointer, String text) {
        String tag = text == null ? "" : text.strip();
        if (TAG.matcher(tag).matches() && tag.length() <= Fields.NAME_LENGTH) return Optional.of(tag);
        fields.fault(
                pointer,
                "lower-case words joined by single hyphens",
                tag.isEmpty() ? "nothing" : Fields.quoted(tag),
                "Write such as night-shift.");
        return Optional.empty();
    }

    private interface Reading<T> {
        Optional<T> read(String pointer, String text);
    }

    private <T> List<T> each(String pointer, List<String> wanted, Reading<T> reading) {
        if (wanted.size() > MOST_OF_EACH)
            fields.fault(pointer, "at most " + MOST_OF_EACH, wanted.size() + " of them", "Keep the most telling.");
        List<T> read = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++)
            reading.read(pointer + "/" + i, wanted.get(i))
                    .filter(one -> !read.contains(one))
                    .ifPresent(read::add);
        return read;
    }

    private Client.Proof readProof(ClientWanted wanted, ClientKind kind, Client old) {
        ClientAuthMethod usual =
                kind != old.kind() || old.name().isEmpty() ? usualMethod(kind, wanted) : old.tokenEndpointAuthMethod();
        ClientAuthMethod method = fields.word(
                        "/token_endpoint_auth_method", wanted.tokenEndpointAuthMethod(), ClientAuthMethod.class, usual)
                .orElse(usual);
        if (kind.confidential() == (method == ClientAuthMethod.NONE)) {
            // RFC 6749 §2.1: what runs on a person's machine keeps no secret; what runs on a server has no reason to go
            // without.
            fields.fault(
                    "/token_endpoint_auth_method",
                    kind.confidential()
                            ? "client_secret_basic, client_secret_post or private_key_jwt for kind " + kind
                            : "none, because a client of kind " + kind + " cannot keep a credential",
                    Fields.quoted(method.toString()),
                    kind.confidential()
                            ? "Choose one of them."
                            : "Leave it out; if it runs on a server, register kind web or service.");
        }
        Optional<String> jwks = wanted.jwks() == null
                ? old.proof().jwks()
                : wanted.jwks().isEmpty() ? Optional.empty() : readJwks(JSONObjectUtils.toJSONString(wanted.jwks()));
        Optional<URI> jwksUri = wanted.jwksUri() == null
                ? old.proof().jwksUri()
                : wanted.jwksUri().isBlank() ? Optional.empty() : fields.absoluteUri("/jwks_uri", wanted.jwksUri());
        if (wanted.jwks() != null && wanted.jwksUri() == null) jwksUri = Optional.empty();
        if (wanted.jwksUri() != null && wanted.jwks() == null) jwks = Optional.empty();
        Optional<SigningAlgorithm> algorithm = wanted.tokenEndpointAuthSigningAlg() == null
                ? old.proof().algorithm()
                : wanted.tokenEndpointAuthSigningAlg().isBlank()
                        ? Optional.empty()
                        : fields.word(
                                "/token_endpoint_auth_signing_alg",
                                wanted.tokenEndpointAuthSigningAlg(),
                                SigningAlgorithm.class,
                                null);
        if (method == ClientAuthMethod.PRIVATE_KEY_JWT && jwks.isPresent() == jwksUri.isPresent()) {
            fields.fault(
                    "/jwks",
                    "the client's public keys, as jwks or by jwks_uri",
                    jwks.isPresent() ? "both" : "neither",
                    "Give one of them.");
        }
        if (method != ClientAuthMethod.PRIVATE_KEY_JWT) return Client.Proof.by(method);
        return new Client.Proof(method, jwks, jwksUri, algorithm);
    }

    private static ClientAuthMethod usualMethod(ClientKind kind, ClientWanted wanted) {
        if (!kind.confidential()) return ClientAuthMethod.NONE;
        boolean keys = wanted.jwks() != null && !wanted.jwks().isEmpty()
                || wanted.jwksUri() != null && !wanted.jwksUri().isBlank();
        return keys ? ClientAuthMethod.PRIVATE_KEY_JWT : ClientAuthMethod.CLIENT_SECRET_BASIC;
    }

    private Optional<String> readJwks(String text) {
        try {
            if (text.length() > LONGEST_JWKS) throw new ParseException("too long", 0);
            JWKSet set = JWKSet.parse(text);
            for (JWK key : set.getKeys()) {
                if (key.isPrivate() && !(key instanceof OctetSequenceKey)) {
                    fields.fault(
                            "/jwks",
                            "public keys",
                            "a private key",
                            "Send the public half only, and make new keys: the one who saw this has the private one.");
                    return Optional.empty();
                }
                if (SigningAlgorithm.of(key).isEmpty()) {
                    fields.fault(
                            "/jwks",
                            "keys of EC P-256, RSA of 2048 bits or more, or Ed25519",
                            "a key of another type, curve or size",
                            "Take that key out.");
                    return Optional.empty();
                }
            }
            if (set.isEmpty() || set.size() > MOST_KEYS) {
                fields.fault(
                        "/jwks", "1 to " + MOST_KEYS + " keys", set.size() + " of them", "Give the keys that sign.");
                return Optional.empty();
            }
            return Optional.of(set.toString(true));
        } catch (ParseException | RuntimeException none) {
            fields.fault(
                    "/jwks",
                    "a JWK Set (RFC 7517 section 5) of at most " + LONGEST_JWKS + " characters",
                    "something else",
                    "Send {\"keys\":[…]} with public keys.");
            return Optional.empty();
        }
    }

    private Optional<List<String>> readGrantTypes(ClientWanted wanted, ClientKind kind, Client old) {
        if (wanted.grantTypes() == null) return kind == old.kind() ? old.grantTypes() : Optional.empty();
        TreeSet<String> chosen = new TreeSet<>();
        for (int i = 0; i < wanted.grantTypes().size(); i++) {
            String type = wanted.grantTypes().get(i) == null
                    ? ""
                    : wanted.grantTypes().get(i).strip();
            if (!grantTypes.contains(type)) {
                fields.fault(
                        "/grant_types/" + i,
                        "one of " + String.join(", ", new TreeSet<>(grantTypes)),
                        type.isEmpty() ? "nothing" : Fields.quoted(type),
                        "Choose among them.");
            }
            if (type.equals("client_credentials") && !kind.confidential()) {
                // RFC 6749 §4.4: only for confidential clients.
                fields.fault(
                        "/grant_types/" + i,
                        "a grant type for a client that cannot keep a credential",
                        Fields.quoted(type),
                        "Register kind machine or web for it.");
            }
            chosen.add(type);
        }
        return Optional.of(List.copyOf(chosen));
    }

    private List<String> readIdentity(ClientWanted wanted, ClientKind kind, Client old) {
        if (wanted.openidScopes() == null) {
            return kind != old.kind() || old.name().isEmpty()
                    ? kind.forPeople() ? USUAL_IDENTITY : List.of()
                    : old.openidScopes();
        }
        List<String> chosen = new ArrayList<>();
        for (int i = 0; i < wanted.openidScopes().size(); i++) {
            String scope = wanted.openidScopes().get(i) == null
                    ? ""
                    : wanted.openidScopes().get(i).strip();
            if (!IDENTITY_SCOPES.contains(scope) || !kind.forPeople()) {
                fields.fault(
                        "/openid_scopes/" + i,
                        kind.forPeople()
                                ? "one of " + String.join(", ", new TreeSet<>(IDENTITY_SCOPES))
                                : "none for kind " + kind,
                        scope.isEmpty() ? "nothing" : Fields.quoted(scope),
                        kind.forPeople() ? "Choose among them." : "Leave them out: nobody signs in.");
            }
            if (!chosen.contains(scope)) chosen.add(scope);
        }
        return chosen;
    }
}
