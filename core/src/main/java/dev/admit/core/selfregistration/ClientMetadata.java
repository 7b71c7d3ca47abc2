package dev.admit.core.selfregistration;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.contract.ClientWanted;
import dev.admit.core.authorize.IdentityScopes;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Look;
import dev.admit.core.registry.Scope;
import java.net.URI;
import java.text.ParseException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;

/**
 * Client metadata (RFC 7591 §2, OpenID Connect Registration §2) as a client says it of itself. What is not known here
 * is passed over, as §2 wants; what cannot be taken is a fault.
 */
final class ClientMetadata {
    private static final String DEVICE = "urn:ietf:params:oauth:grant-type:device_code";
    private static final List<String> KEPT =
            List.of("client_uri", "logo_uri", "policy_uri", "tos_uri", "software_id", "software_version");
    /** Of the issuer's own scopes; never the one that runs Admit. */
    private static final Set<String> OPENID = openid();

    private final Map<String, Object> said;
    private final Limits limits;
    private final List<Scope> scopes;
    private final Predicate<String> isTaken;
    private final List<FieldFault> faults = new ArrayList<>();

    /**
     * @param scopes of the issuer, those that may be requested
     * @param isTaken whether a name looks like the name of a client that a person registered, or of the issuer
     */
    ClientMetadata(Map<String, Object> said, Limits limits, List<Scope> scopes, Predicate<String> isTaken) {
        this.said = said;
        this.limits = limits;
        this.scopes = scopes;
        this.isTaken = isTaken;
    }

    /** @param wanted of no use where there are faults */
    record Read(
            ClientWanted wanted,
            ClientKind kind,
            List<String> scopes,
            Map<String, String> more,
            List<FieldFault> faults) {}

    private static Set<String> openid() {
        Set<String> all = new LinkedHashSet<>(IdentityScopes.all());
        all.removeIf(IdentityScopes::needsAdministrator);
        return all;
    }

    /**
     * All of it: what is not said is as usual, of a change too, because that takes the place of what was there (RFC
     * 7592 §2.2).
     *
     * @param name by which people with an admin role find it
     */
    Read read(String name) {
        String clientName = text("client_name", Fields.TEXT_LENGTH);
        if (!clientName.isEmpty() && (Look.mixesScripts(clientName) || isTaken.test(clientName)))
            faults.add(new FieldFault(
                    "/client_name",
                    "a name that cannot be taken for another",
                    Fields.quoted(clientName),
                    "Choose a name of its own, in letters of one script."));
        List<String> redirects = list("redirect_uris");
        Optional<List<String>> grantTypes = grantTypes();
        String method = text("token_endpoint_auth_method", Fields.TEXT_LENGTH);
        ClientKind kind = kind(grantTypes, method.isEmpty() ? "client_secret_basic" : method, redirects);
        if (!limits.allows(kind))
            faults.add(new FieldFault(
                    "/grant_types",
                    "a client of a kind that may register itself here",
                    "one of kind " + kind,
                    "Ask an administrator to register it."));
        checkResponseTypes();
        if (kind.hasRedirects() && redirects.isEmpty()) // RFC 7591 §2
        faults.add(new FieldFault(
                "/redirect_uris", "where people come back to", "nothing", "Name at least one redirect URI."));
        for (int i = 0; i < redirects.size(); i++) checkRedirect(i, redirects.get(i));
        checkJwksUri();
        List<String> asked = scopes(kind);
        Map<String, Object> jwks = jwks();
        ClientWanted wanted = new ClientWanted(
                name,
                clientName.isEmpty() ? name : clientName,
                "",
                kind.toString(),
                method.isEmpty() ? usualMethod(kind) : method,
                list("contacts"),
                link("client_uri"),
                List.of(),
                redirects,
                kind == ClientKind.BROWSER ? origins(redirects) : List.of(),
                grantTypes.orElse(kind.usualGrantTypes()),
                kind.forPeople() ? asked.stream().filter(OPENID::contains).toList() : null,
                jwks,
                null,
                text("token_endpoint_auth_signing_alg", Fields.TEXT_LENGTH),
                null,
                text("id_token_signed_response_alg", Fields.TEXT_LENGTH),
                list("post_logout_redirect_uris"),
                null,
                List.of());
        Map<String, String> more = new LinkedHashMap<>();
        for (String member : KEPT) {
            String value = text(member, Fields.URI_LENGTH);
            if (member.endsWith("_uri")) checkLink(member, value);
            if (!value.isEmpty()) more.put(member, value);
        }
        return new Read(
                wanted, kind, asked.stream().filter(it -> !OPENID.contains(it)).toList(), more, List.copyOf(faults));
    }

    /** RFC 7591 §2 says what holds where nothing is said: the code flow, and a secret by Basic. */
    private static ClientKind kind(Optional<List<String>> grantTypes, String method, List<String> redirects) {
        List<String> types = grantTypes.orElse(List.of("authorization_code"));
        if (types.contains(DEVICE)) return ClientKind.DEVICE;
        if (types.equals(List.of("client_credentials"))) return ClientKind.MACHINE;
        if (!method.equals("none")) return ClientKind.WEB;
        return redirects.stream().anyMatch(ClientMetadata::staysOnTheMachine) ? ClientKind.NATIVE : ClientKind.BROWSER;
    }

    /** RFC 7591 §2; what cannot keep a secret has none, whatever is usual. */
    private static String usualMethod(ClientKind kind) {
        return kind.confidential() ? "client_secret_basic" : "none";
    }

    /** RFC 8252 §7: an application's own scheme, or a loopback address. */
    private static boolean staysOnTheMachine(String redirect) {
        return !redirect.regionMatches(true, 0, "https:", 0, 6);
    }

    private Optional<List<String>> grantTypes() {
        if (!said.containsKey("grant_types")) return Optional.empty();
        List<String> types = list("grant_types");
        for (int i = 0; i < types.size(); i++)
            if (!limits.allowsGrantType(types.get(i)))
                faults.add(new FieldFault(
                        "/grant_types/" + i,
                        "a grant type that may be registered here",
                        Fields.quoted(types.get(i)),
                        "Leave it out, or ask an administrator."));
        return types.isEmpty() ? Optional.empty() : Optional.of(types);
    }

    private void checkResponseTypes() {
        List<String> types = list("response_types");
        if (!types.isEmpty() && !types.equals(List.of("code")))
            faults.add(new FieldFault(
                    "/response_types",
                    "code alone",
                    Fields.quoted(String.join(", ", types)),
                    "Use the authorization code flow with PKCE."));
    }

    private void checkRedirect(int at, String redirect) {
        try {
            if (!limits.allowsRedirect(redirect))
                faults.add(new FieldFault(
                        "/redirect_uris/" + at,
                        "a redirect URI in " + String.join(" or ", limits.redirectDomains()),
                        Fields.quoted(redirect),
                        "Use an address there."));
        } catch (IllegalArgumentException toldWithTheRest) {
            // what is no URI is a fault of the registration
        }
    }

    /** Whoever registers itself would choose what this service fetches, perhaps from within its own network. */
    private void checkJwksUri() {
        if (!text("jwks_uri", Fields.URI_LENGTH).isEmpty())
            faults.add(new FieldFault(
                    "/jwks_uri", "the keys themselves, as jwks", "an address", "Send the public keys in jwks."));
    }

    /** Empty for none. */
    private Map<String, Object> jwks() {
        if (!said.containsKey("jwks")) return Map.of();
        if (said.get("jwks") instanceof Map<?, ?> set) {
            try {
                return JSONObjectUtils.parse(JSONObjectUtils.toJSONString(cast(set)));
            } catch (ParseException none) {
                // told below
            }
        }
        faults.add(new FieldFault("/jwks", "a JWK Set", "something else", "Send {\"keys\":[…]} with public keys."));
        return Map.of();
    }

    private static Map<String, Object> cast(Map<?, ?> object) {
        Map<String, Object> members = new LinkedHashMap<>();
        object.forEach((name, value) -> members.put(String.valueOf(name), value));
        return members;
    }

    /** What is requested; where nothing is said, all that may be. */
    private List<String> scopes(ClientKind kind) {
        List<String> allowed = new ArrayList<>(kind.forPeople() ? OPENID : Set.of());
        scopes.stream()
                .filter(limits::allows)
                .filter(it ->
                        kind.forPeople() ? it.forWhom().people() : it.forWhom().clients())
                .map(Scope::name)
                .forEach(allowed::add);
        if (!said.containsKey("scope")) return allowed;
        List<String> wanted = new ArrayList<>();
        for (String scope : text("scope", 2000).split(" "))
            if (!scope.isEmpty() && !wanted.contains(scope)) wanted.add(scope);
        List<String> beyond =
                wanted.stream().filter(it -> !allowed.contains(it)).toList();
        if (!beyond.isEmpty())
            faults.add(new FieldFault(
                    "/scope",
                    allowed.isEmpty() ? "no scope" : "some of " + String.join(" ", allowed),
                    Fields.quoted(String.join(" ", beyond)),
                    "Leave them out, or ask an administrator."));
        return wanted;
    }

    private static List<String> origins(List<String> redirects) {
        Set<String> origins = new LinkedHashSet<>();
        for (String redirect : redirects) {
            try {
                URI uri = new URI(redirect);
                if (uri.getHost() != null)
                    origins.add(
                            uri.getScheme() + "://" + uri.getHost() + (uri.getPort() < 0 ? "" : ":" + uri.getPort()));
            } catch (java.net.URISyntaxException toldWithTheRest) {
                // a fault of the registration
            }
        }
        return List.copyOf(origins);
    }

    private void checkLink(String member, String value) {
        if (!value.isEmpty() && !value.matches("https?://[^/\\s]+\\S*"))
            faults.add(
                    new FieldFault("/" + member, "an http or https address", Fields.quoted(value), "Link to a page."));
    }

    private List<String> link(String member) {
        return said.get(member) instanceof String text && text.matches("https?://[^/\\s]+\\S*")
                ? List.of(text)
                : List.of();
    }

    private String text(String member, int longest) {
        Object value = said.get(member);
        if (value == null) return "";
        if (value instanceof String text && text.length() <= longest) return text.strip();
        faults.add(new FieldFault(
                "/" + member,
                "a text of at most " + longest + " characters",
                value instanceof String ? "a longer one" : "something else",
                "Correct it, or leave it out."));
        return "";
    }

    private List<String> list(String member) {
        Object value = said.get(member);
        if (value == null) return List.of();
        if (value instanceof List<?> some && some.stream().allMatch(String.class::isInstance))
            return some.stream().map(String.class::cast).toList();
        faults.add(new FieldFault("/" + member, "a list of texts", "something else", "Send a JSON array of strings."));
        return List.of();
    }

    /**
     * What a client is, in the terms in which it said it (RFC 7591 §3.2.1).
     *
     * @param scopes that it requests
     */
    static Map<String, Object> of(Client client, List<String> scopes, Map<String, String> more) {
        Map<String, Object> all = new LinkedHashMap<>();
        all.put("client_id", client.id());
        all.put("client_id_issued_at", client.createdAt().getEpochSecond());
        all.put("client_name", client.clientName());
        all.put("redirect_uris", client.addresses().redirects());
        all.put("token_endpoint_auth_method", client.tokenEndpointAuthMethod().toString());
        all.put("grant_types", client.usableGrantTypes());
        all.put("response_types", client.kind().hasRedirects() ? List.of("code") : List.of());
        List<String> requested = new ArrayList<>(client.openidScopes());
        requested.addAll(scopes);
        all.put("scope", String.join(" ", requested));
        if (!client.texts().contacts().isEmpty())
            all.put("contacts", client.texts().contacts());
        client.proof().jwks().ifPresent(it -> all.put("jwks", parsed(it)));
        client.proof().algorithm().ifPresent(it -> all.put("token_endpoint_auth_signing_alg", it.toString()));
        client.people()
                .idTokenSignedResponseAlg()
                .ifPresent(it -> all.put("id_token_signed_response_alg", it.toString()));
        if (!client.people().postLogoutRedirectUris().isEmpty())
            all.put("post_logout_redirect_uris", client.people().postLogoutRedirectUris());
        all.putAll(more);
        return all;
    }

    private static Map<String, Object> parsed(String json) {
        try {
            return JSONObjectUtils.parse(json);
        } catch (ParseException damaged) {
            throw new IllegalStateException("kept keys cannot be read", damaged);
        }
    }
}
