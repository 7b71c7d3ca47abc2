package dev.admit.cli;

import dev.admit.contract.ClientView;
import dev.admit.contract.ClientWanted;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;
import tools.jackson.core.JacksonException;
import tools.jackson.core.type.TypeReference;

/**
 * What a client is registered with, and what of it can be changed. A list that is said comes whole; '' alone empties
 * it.
 */
final class ClientFields {
    @Option(names = "--client-name", paramLabel = "TEXT", description = "{ClientWanted.clientName}.")
    String clientName;

    @Option(names = "--description", description = "{ClientWanted.description}.")
    String description;

    @Option(names = "--kind", paramLabel = "WORD", description = "{ClientWanted.kind}.")
    String kind;

    @Option(
            names = "--token-endpoint-auth-method",
            paramLabel = "WORD",
            description = "{ClientWanted.tokenEndpointAuthMethod}.")
    String tokenEndpointAuthMethod;

    @Option(names = "--contact", paramLabel = "TEXT", description = "{ClientWanted.contacts}; may be said again.")
    List<String> contacts;

    @Option(names = "--link", paramLabel = "URL", description = "{ClientWanted.links}; may be said again.")
    List<String> links;

    @Option(names = "--tag", paramLabel = "WORD", description = "May be said again.")
    List<String> tags;

    @Option(
            names = "--redirect-uri",
            paramLabel = "URI",
            description = "{ClientWanted.redirectUris}; may be said again.")
    List<String> redirects;

    @Option(names = "--origin", paramLabel = "ORIGIN", description = "{ClientWanted.origins}; may be said again.")
    List<String> origins;

    @Option(names = "--grant-type", paramLabel = "WORD", description = "{ClientWanted.grantTypes}; may be said again.")
    List<String> grantTypes;

    @Option(
            names = "--openid-scope",
            paramLabel = "SCOPE",
            description = "{ClientWanted.openidScopes}; may be said again.")
    List<String> identity;

    @Option(names = "--jwks", paramLabel = "FILE", description = "Its public keys, as a JWK Set.")
    Path jwks;

    @Option(
            names = "--make-key",
            paramLabel = "FILE",
            description = "Make a key pair: the private half goes to this file, the public half into the registration.")
    Path makeKey;

    @Option(names = "--jwks-uri", paramLabel = "URL", description = "Where its public keys are.")
    String jwksUri;

    @Option(
            names = "--token-endpoint-auth-signing-alg",
            paramLabel = "WORD",
            description = "{ClientWanted.tokenEndpointAuthSigningAlg}.")
    String tokenEndpointAuthSigningAlg;

    @Option(
            names = "--second-factor",
            arity = "1",
            paramLabel = "true|false",
            description = "{ClientWanted.secondFactor}.")
    Boolean secondFactor;

    @Option(
            names = "--id-token-signed-response-alg",
            paramLabel = "WORD",
            description = "{ClientWanted.idTokenSignedResponseAlg}.")
    String idTokenSignedResponseAlg;

    @Option(
            names = "--post-logout-redirect-uri",
            paramLabel = "URI",
            description = "{ClientWanted.postLogoutRedirectUris}; may be said again.")
    List<String> postLogoutRedirectUris;

    @Option(
            names = "--may-introspect",
            arity = "1",
            paramLabel = "true|false",
            description = "{ClientWanted.mayIntrospect}.")
    Boolean mayIntrospect;

    private boolean keyMade;

    ClientWanted wanted(String name, List<String> scopes, String lifetime, String clientId) {
        return new ClientWanted(
                name,
                clientName,
                description,
                kind,
                tokenEndpointAuthMethod,
                Common.whole(contacts),
                Common.whole(links),
                Common.whole(tags),
                Common.whole(redirects),
                Common.whole(origins),
                Common.whole(grantTypes),
                Common.whole(identity),
                keys(),
                jwksUri,
                tokenEndpointAuthSigningAlg,
                secondFactor,
                idTokenSignedResponseAlg,
                Common.whole(postLogoutRedirectUris),
                mayIntrospect,
                scopes,
                lifetime,
                clientId);
    }

    /** What a change says of a client that is there. */
    ClientWanted change(String name, ClientView old, Lists lists) {
        return new ClientWanted(
                name,
                clientName,
                description,
                kind,
                tokenEndpointAuthMethod,
                lists.list("--contact", contacts, old.contacts()),
                lists.list("--link", links, old.links()),
                lists.list("--tag", tags, old.tags()),
                lists.list("--redirect-uri", redirects, old.redirectUris()),
                lists.list("--origin", origins, old.origins()),
                lists.list("--grant-type", grantTypes, old.grantTypes()),
                lists.list("--openid-scope", identity, old.openidScopes()),
                keys(),
                jwksUri,
                tokenEndpointAuthSigningAlg,
                secondFactor,
                idTokenSignedResponseAlg,
                lists.list("--post-logout-redirect-uri", postLogoutRedirectUris, old.postLogoutRedirectUris()),
                mayIntrospect,
                null,
                null,
                null);
    }

    /**
     * Sends what was wanted; when it is refused, a key that was made for it goes again, so that the next try can make
     * one.
     */
    <T> T send(Supplier<T> sending) {
        try {
            return sending.get();
        } catch (Failure refused) {
            if (keyMade) ClientKey.forget(makeKey);
            throw refused;
        }
    }

    private @Nullable Map<String, Object> keys() {
        if (makeKey != null) {
            Map<String, Object> made = ClientKey.make(makeKey);
            keyMade = true;
            return made;
        }
        if (jwks == null) return null;
        try {
            return Http.JSON.readValue(Files.readString(jwks), new TypeReference<>() {});
        } catch (IOException | JacksonException unreadable) {
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "%s holds no JWK Set that can be read. Name a file with {\"keys\":[…]}.".formatted(jwks));
        }
    }
}
