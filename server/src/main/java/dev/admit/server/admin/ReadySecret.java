package dev.admit.server.admin;

import dev.admit.contract.SecretOnce;
import dev.admit.core.decision.Command;
import dev.admit.core.registration.ApiRegistration;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.Issuer;
import dev.admit.server.programs.DotEnv;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/** A secret just made, with everything that can be pasted from it. */
final class ReadySecret {
    private ReadySecret() {}

    static SecretOnce of(Issuer issuer, Client client, List<String> scopes, ClientRegistration.IssuedSecret it) {
        String secret = it.secret().reveal();
        String endpoint = issuer.url() + "/token";
        boolean basic = client.tokenEndpointAuthMethod() == ClientAuthMethod.CLIENT_SECRET_BASIC;
        String proof = basic
                ? "-u '%s:%s'".formatted(client.id(), secret)
                : "-d client_id=%s -d client_secret=%s".formatted(client.id(), secret);
        String scope = String.join(" ", scopes);
        boolean onItsOwn = client.mayUse("client_credentials");
        String redirect = client.addresses().redirects().isEmpty()
                ? ""
                : client.addresses().redirects().getFirst();
        // A client that people sign in to exchanges a code; only one that acts on its own asks with its secret alone.
        String grant = onItsOwn
                ? "-d grant_type=client_credentials"
                        + (scope.isEmpty() ? "" : " --data-urlencode " + Command.quoted("scope=" + scope))
                : "-d grant_type=authorization_code -d code=CODE -d code_verifier=VERIFIER --data-urlencode "
                        + Command.quoted("redirect_uri=" + redirect);
        String curl = "curl -s %s %s %s".formatted(proof, grant, endpoint);
        DotEnv env = new DotEnv()
                .with("ISSUER", issuer.url())
                .with("TOKEN_ENDPOINT", endpoint)
                .with("CLIENT_ID", client.id())
                .with("CLIENT_SECRET", secret)
                .with("SCOPE", asked(client, scope));
        if (!onItsOwn)
            env.with("AUTHORIZATION_ENDPOINT", issuer.url() + "/authorize").with("REDIRECT_URI", redirect);
        return new SecretOnce(
                it.kept().id(),
                it.kept().label(),
                secret,
                it.kept().expiresAt().orElse(null),
                basic ? authorization(client.id(), secret) : null,
                curl,
                env.toString(),
                onItsOwn ? code(basic) : signInCode(basic));
    }

    static SecretOnce of(Issuer issuer, Api api, ApiRegistration.IssuedSecret it) {
        String secret = it.secret().reveal();
        String endpoint = issuer.url() + "/introspect";
        return new SecretOnce(
                it.kept().id(),
                it.kept().label(),
                secret,
                it.kept().expiresAt(),
                authorization(api.id(), secret),
                "curl -s -u '%s:%s' -d token=TOKEN %s".formatted(api.id(), secret, endpoint),
                new DotEnv()
                        .with("ISSUER", issuer.url())
                        .with("INTROSPECTION_ENDPOINT", endpoint)
                        .with("API_ID", api.id())
                        .with("API_SECRET", secret)
                        .with("AUDIENCE", api.audience())
                        .toString(),
                Map.of());
    }

    /** RFC 6749 §2.3.1: both halves form-encoded, then base64. */
    private static String authorization(String id, String secret) {
        return "Basic "
                + Base64.getEncoder()
                        .encodeToString((encoded(id) + ":" + encoded(secret)).getBytes(StandardCharsets.UTF_8));
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }

    /**
     * What it requests: for people the issuer's own scopes as well.
     *
     * @param ofApis space-separated
     */
    private static String asked(Client client, String ofApis) {
        return client.mayUse("client_credentials")
                ? ofApis
                : Stream.concat(client.openidScopes().stream(), Stream.of(ofApis))
                        .collect(java.util.stream.Collectors.joining(" "))
                        .strip();
    }

    /**
     * For a client that people sign in to: where to send them, and how the code that comes back is exchanged (RFC 6749
     * §4.1, RFC 7636).
     */
    private static Map<String, String> signInCode(boolean basic) {
        Map<String, String> code = new LinkedHashMap<>();
        code.put("javascript", """
                import { createHash, randomBytes } from "node:crypto";
                const env = process.env;
                const verifier = randomBytes(32).toString("base64url");
                const challenge = createHash("sha256").update(verifier).digest("base64url");
                const query = new URLSearchParams({ response_type: "code", client_id: env.CLIENT_ID, redirect_uri: \
                env.REDIRECT_URI, scope: env.SCOPE,
                  state: randomBytes(16).toString("base64url"), code_challenge: challenge, code_challenge_method: \
                "S256" });
                console.log(`${env.AUTHORIZATION_ENDPOINT}?${query}`); // send the browser there; keep verifier and \
                state until it comes back
                async function exchange(code) {
                  const form = new URLSearchParams({ grant_type: "authorization_code", code, redirect_uri: \
                env.REDIRECT_URI, code_verifier: verifier%s });
                  return (await fetch(env.TOKEN_ENDPOINT, { method: "POST", body: form%s })).json();
                }
                if (env.CODE) console.log(await exchange(env.CODE));
                """.formatted(
                        basic ? "" : ", client_id: env.CLIENT_ID, client_secret: env.CLIENT_SECRET",
                        basic
                                ? ", headers: { Authorization: \"Basic \" + "
                                        + "btoa(`${env.CLIENT_ID}:${env.CLIENT_SECRET}`) }"
                                : ""));
        code.put("python", """
                import base64, hashlib, os, secrets, requests
                from urllib.parse import urlencode
                env = os.environ
                verifier = secrets.token_urlsafe(32)
                challenge = base64.urlsafe_b64encode(hashlib.sha256(verifier.encode()).digest()).rstrip(b"=").decode()
                query = {"response_type": "code", "client_id": env["CLIENT_ID"], "redirect_uri": env["REDIRECT_URI"], \
                "scope": env["SCOPE"],
                         "state": secrets.token_urlsafe(16), "code_challenge": challenge, "code_challenge_method": \
                "S256"}
                print(env["AUTHORIZATION_ENDPOINT"] + "?" + urlencode(query))  # send the browser there; keep \
                verifier and state until it comes back
                def exchange(code):
                    form = {"grant_type": "authorization_code", "code": code, "redirect_uri": env["REDIRECT_URI"], \
                "code_verifier": verifier%s}
                    return requests.post(env["TOKEN_ENDPOINT"], data=form%s).json()
                """.formatted(
                        basic ? "" : ", \"client_id\": env[\"CLIENT_ID\"], \"client_secret\": env[\"CLIENT_SECRET\"]",
                        basic ? ", auth=(env[\"CLIENT_ID\"], env[\"CLIENT_SECRET\"])" : ""));
        return code;
    }

    private static Map<String, String> code(boolean basic) {
        Map<String, String> code = new LinkedHashMap<>();
        code.put("java", """
                var env = System.getenv();
                var form = "grant_type=client_credentials&scope=" + URLEncoder.encode(env.get("SCOPE"), UTF_8)%s;
                var request = HttpRequest.newBuilder(URI.create(env.get("TOKEN_ENDPOINT")))
                        .header("Content-Type", "application/x-www-form-urlencoded")%s
                        .POST(HttpRequest.BodyPublishers.ofString(form)).build();
                System.out.println(HttpClient.newHttpClient().send(request, \
                HttpResponse.BodyHandlers.ofString()).body());
                """.formatted(
                        basic
                                ? ""
                                : "\n        + \"&client_id=\" + env.get(\"CLIENT_ID\") + \"&client_secret=\" + "
                                        + "env.get(\"CLIENT_SECRET\")",
                        basic
                                ? "\n        .header(\"Authorization\", \"Basic \" + "
                                        + "Base64.getEncoder().encodeToString((env.get(\"CLIENT_ID\") + \":\" + "
                                        + "env.get(\"CLIENT_SECRET\")).getBytes()))"
                                : ""));
        code.put("javascript", """
                const env = process.env;
                const form = new URLSearchParams({ grant_type: "client_credentials", scope: env.SCOPE%s });
                const answer = await fetch(env.TOKEN_ENDPOINT, { method: "POST", body: form%s });
                console.log(await answer.json());
                """.formatted(
                        basic ? "" : ", client_id: env.CLIENT_ID, client_secret: env.CLIENT_SECRET",
                        basic
                                ? ",\n  headers: { Authorization: \"Basic \" + "
                                        + "btoa(`${env.CLIENT_ID}:${env.CLIENT_SECRET}`) }"
                                : ""));
        code.put("python", """
                import os, requests
                env = os.environ
                form = {"grant_type": "client_credentials", "scope": env["SCOPE"]%s}
                print(requests.post(env["TOKEN_ENDPOINT"], data=form%s).json())
                """.formatted(
                        basic ? "" : ", \"client_id\": env[\"CLIENT_ID\"], \"client_secret\": env[\"CLIENT_SECRET\"]",
                        basic ? ", auth=(env[\"CLIENT_ID\"], env[\"CLIENT_SECRET\"])" : ""));
        return code;
    }
}
