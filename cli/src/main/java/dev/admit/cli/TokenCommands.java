package dev.admit.cli;

import dev.admit.contract.ActiveTokensView;
import dev.admit.contract.ApprovalView;
import dev.admit.contract.ClientView;
import dev.admit.contract.IssuedView;
import dev.admit.contract.RevokeWanted;
import dev.admit.contract.RouteView;
import dev.admit.contract.TrialView;
import dev.admit.contract.TrialWanted;
import dev.admit.contract.TriedView;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

@Command(
        name = "token",
        description = "Fetch a token as a client, or a trial one; read one; list and revoke issued ones.",
        subcommands = {
            TokenCommands.Fetch.class,
            TokenCommands.TrialToken.class,
            TokenCommands.Read.class,
            TokenCommands.ListAll.class,
            TokenCommands.Active.class,
            TokenCommands.Revoke.class
        })
final class TokenCommands {

    /** Which client, and how its secret is found. */
    static final class AsClient {
        @Option(names = "--scope", description = "Scopes to request, separated by spaces.")
        String scope;

        @Option(names = "--resource", paramLabel = "URI", description = "The audience of the API that is meant.")
        String resource;

        @Option(
                names = "--key",
                paramLabel = "FILE",
                description = "The private key (PEM) of a client that proves itself with one.")
        Path key;

        /**
         * Where neither scope nor resource was named, the scopes that the route needs; of several that each would do,
         * one that the client holds.
         */
        void takeWhatTheRouteNeeds(Common common, String client, String method, String path) {
            if (scope != null || resource != null) return;
            try {
                RouteView route = common.admin()
                        .get(
                                common.path("table")
                                        + Http.query(
                                                "method",
                                                method.toUpperCase(java.util.Locale.ROOT),
                                                "path",
                                                path.replaceFirst("\\?.*", "")),
                                TriedView.class)
                        .value()
                        .answers();
                if (route == null || route.open() || route.scopes().isEmpty()) return;
                scope = "any-of".equals(route.mode())
                        ? held(common, client, route.scopes())
                        : String.join(" ", route.scopes());
            } catch (Failure notTold) {
                // Without a view of the routes, the command requests what is granted without a name.
            }
        }

        private static String held(Common common, String client, List<String> scopes) {
            List<ApprovalView> requested =
                    common.admin().get(common.path("clients", client), ClientView.class).value().scopes().stream()
                            .filter(it -> scopes.contains(it.scope()))
                            .toList();
            return requested.stream()
                    .filter(it -> it.status().equals("granted"))
                    .findFirst()
                    .or(() -> requested.stream().findFirst())
                    .map(ApprovalView::scope)
                    .orElse(scopes.getFirst());
        }

        /**
         * A token, however the client proves itself.
         *
         * @return the whole answer
         */
        JsonNode fetch(Common common, String client) {
            if (key == null) return common.http().fetchToken(credential(common, client), scope, resource);
            ClientView it = common.admin()
                    .get(common.path("clients", client), ClientView.class)
                    .value();
            return common.http()
                    .fetchToken(
                            it.tokenEndpoint(),
                            ClientKey.assertion(key, it.clientId(), it.tokenEndpoint(), common.now()),
                            scope,
                            resource);
        }

        SavedServers.Credential credential(Common common, String client) {
            SavedServers.Server server = common.admin().server();
            String issuer = common.issuer();
            SavedServers.Credential kept = server.clients().get(issuer + "/" + client);
            if (kept == null)
                kept = server.clients().values().stream()
                        .filter(it -> it.clientId().equals(client))
                        .findFirst()
                        .orElse(null);
            if (kept != null) return kept;
            ClientView it = common.admin()
                    .get(common.path("clients", client), ClientView.class)
                    .value();
            if (!it.grantTypes().contains("client_credentials")) {
                throw new Failure(
                        Failure.REFUSED,
                        ("%s is a client of kind %s, which acts for people: a person signs in for it. Call with a "
                                        + "token of theirs in --token, or from the page Call of the console.")
                                .formatted(it.name(), it.kind()));
            }
            if (it.tokenEndpointAuthMethod().equals("private_key_jwt"))
                throw new Failure(
                        Failure.WRONG_USAGE,
                        "%s proves itself with a private key. Name its file: --key FILE".formatted(it.name()));
            String secret = common.around().variable("ADMIT_CLIENT_SECRET");
            if (secret == null || secret.isBlank()) secret = common.readSecret("Secret of " + it.name());
            if (secret.isBlank()) {
                throw new Failure(
                        Failure.WRONG_USAGE,
                        ("The secret of %s is not kept on this machine. Give it in ADMIT_CLIENT_SECRET or on "
                                        + "standard input, or make one to keep: %s")
                                .formatted(it.name(), Http.command("admit secret add %s --keep", it.name())));
            }
            return new SavedServers.Credential(
                    it.tokenEndpoint(), it.clientId(), secret.strip(), it.tokenEndpointAuthMethod());
        }
    }

    @Command(
            name = "fetch",
            description = "Fetch a token as a client, by its grant.",
            footer = {"", "Example: admit token fetch tide-buoy-07 --scope tides.read"})
    static final class Fetch implements Runnable {
        @Mixin
        Common common;

        @Mixin
        AsClient as;

        @Parameters(paramLabel = "CLIENT")
        String client;

        @Override
        public void run() {
            JsonNode answer = as.fetch(common, client);
            // The token alone, so that it can stand in $(…); what it is goes to the error channel.
            common.say(answer, () -> {
                common.command
                        .commandLine()
                        .getErr()
                        .println("Granted: %s, for %d min."
                                .formatted(
                                        answer.path("scope").asString(),
                                        answer.path("expires_in").asInt() / 60));
                common.out().line(answer.path("access_token").asString());
            });
        }
    }

    @Command(
            name = "trial",
            description = {
                "Have a trial token made: what the client would get, without its credential.",
                "It lives two minutes, says in its claim act who had it made, and stands in the audit."
            },
            footer = {"", "Example: TOKEN=$(admit token trial tide-buoy-07 --scope tides.read)"})
    static final class TrialToken implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "CLIENT")
        String client;

        @Option(names = "--scope", description = "Scopes to request, separated by spaces.")
        String scope;

        @Option(names = "--resource", paramLabel = "URI", description = "The audience of the API that is meant.")
        String resource;

        @Override
        public void run() {
            TrialView made = make(common, client, scope, resource);
            common.say(made, () -> {
                common.command
                        .commandLine()
                        .getErr()
                        .println("Trial token of %s: %s, for two minutes.".formatted(made.client(), made.scope()));
                common.out().line(made.token());
            });
        }

        static TrialView make(Common common, String client, String scope, String resource) {
            return common.admin()
                    .post(common.path("tokens", "trial"), new TrialWanted(client, scope, resource), TrialView.class)
                    .value();
        }
    }

    @Command(
            name = "read",
            description = "Read a token: header, claims in words, time left. Nothing is verified, and nothing is sent "
                    + "anywhere.",
            footer = {"", "Example: admit token read \"$(admit token fetch tide-buoy-07)\""})
    static final class Read implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "TOKEN", arity = "0..1", description = "Left out: read from standard input.")
        String token;

        @Override
        public void run() {
            String text =
                    (token == null ? common.readSecret("Token") : token).strip().replaceFirst("(?i)^Bearer\\s+", "");
            String[] parts = text.split("\\.", -1);
            if (parts.length != 3) {
                throw new Failure(
                        Failure.REFUSED,
                        ("That is no signed JWT: it has %d part%s, not 3. An opaque token can only be read by its "
                                        + "issuer.")
                                .formatted(parts.length, parts.length == 1 ? "" : "s"));
            }
            JsonNode header = decode(parts[0], "header");
            JsonNode claims = decode(parts[1], "claims");
            Map<String, Object> both = new LinkedHashMap<>();
            both.put("header", header);
            both.put("claims", claims);
            common.say(both, () -> tell(common.out(), header, claims));
        }

        private static JsonNode decode(String part, String what) {
            try {
                return Http.JSON.readTree(new String(Base64.getUrlDecoder().decode(part), StandardCharsets.UTF_8));
            } catch (IllegalArgumentException | JacksonException damaged) {
                throw new Failure(
                        Failure.REFUSED, "The token's %s cannot be read: it is damaged, or cut off.".formatted(what));
            }
        }

        private void tell(Output out, JsonNode header, JsonNode claims) {
            Instant now = common.now();
            String subject = claims.path("sub").asString("");
            String client = claims.path("client_id").asString("");
            Map<String, Object> more = new LinkedHashMap<>();
            claims.properties().forEach(claim -> more.put(claim.getKey(), claim.getValue()));
            List.of("iss", "sub", "aud", "exp", "iat", "nbf", "jti", "client_id", "scope")
                    .forEach(more::remove);
            out.fields(
                    "Kind",
                    header.path("typ").asString("").equals("at+jwt")
                            ? "access token (at+jwt)"
                            : header.path("typ").asString("no type"),
                    "Signed",
                    "%s with key %s; not verified here"
                            .formatted(
                                    header.path("alg").asString("?"),
                                    header.path("kid").asString("?")),
                    "From",
                    claims.path("iss").asString(""),
                    "Who",
                    client,
                    "For whom",
                    subject.equals(client) ? "the client itself" : subject,
                    "For which API",
                    claims.path("aud").isArray()
                            ? claims.path("aud").toString()
                            : claims.path("aud").asString(""),
                    "What for",
                    claims.path("scope").asString(""),
                    "Since",
                    time(claims, "iat", now),
                    "Not before",
                    time(claims, "nbf", now),
                    "Until",
                    time(claims, "exp", now),
                    "Id",
                    claims.path("jti").asString(""),
                    "More",
                    more.isEmpty() ? "" : more.toString());
            if (claims.has("exp")) {
                boolean over =
                        !now.isBefore(Instant.ofEpochSecond(claims.path("exp").asLong()));
                out.line(over ? out.verdict("expired") : out.verdict("passed").replace("passed", "in its lifetime"));
            }
        }

        private static String time(JsonNode claims, String name, Instant now) {
            return claims.has(name)
                    ? Output.when(Instant.ofEpochSecond(claims.path(name).asLong()), now)
                    : "";
        }
    }

    @Command(
            name = "list",
            description = "List issued tokens, the newest first. The tokens themselves are not stored.",
            footer = {"", "Example: admit token list --active --client tide-buoy-07"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Option(names = "--client", paramLabel = "NAME", description = "Only of this client.")
        String client;

        @Option(names = "--api", paramLabel = "NAME", description = "Only for this API.")
        String api;

        @Option(names = "--active", description = "Only those that have not expired.")
        boolean active;

        @Option(names = "--limit", paramLabel = "N", description = "At most so many lines. Default: ${DEFAULT-VALUE}.")
        int most = 20;

        @Override
        public void run() {
            List<IssuedView> all = common.admin()
                    .list(
                            common.path("tokens")
                                    + Http.query("client", client, "api", api, "active", active ? "true" : null),
                            IssuedView.class,
                            most);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No token fits.", null);
                else
                    common.out()
                            .table(
                                    List.of("TOKEN", "CLIENT", "API", "ENDS", "SCOPE"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    it.tokenId(),
                                                    it.client(),
                                                    it.api(),
                                                    it.ended() == null
                                                            ? Output.relative(it.expiresAt(), common.now())
                                                            : "⊟ " + it.ended(),
                                                    it.scope()))
                                            .toList());
            });
        }
    }

    @Command(
            name = "active",
            description = "Count the tokens that may still be active, by client and API.",
            footer = {"", "Example: admit token active"})
    static final class Active implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            Admin.Answer<ActiveTokensView> answer =
                    common.admin().get(common.path("tokens", "active"), ActiveTokensView.class);
            common.say(answer.json(), () -> {
                common.out()
                        .table(
                                List.of("CLIENT", "API", "TOKENS"),
                                answer.value().counts().stream()
                                        .map(it -> List.of(it.client(), it.api(), String.valueOf(it.tokens())))
                                        .toList());
                common.out()
                        .done(
                                "%s%d may still be active."
                                        .formatted(
                                                answer.value().exact() ? "" : "At least ",
                                                answer.value().total()),
                                "admit token revoke --client NAME");
            });
        }
    }

    @Command(
            name = "revoke",
            description = "Revoke tokens; the clients can fetch new ones.",
            footer = {"", "Example: admit token revoke --client tide-buoy-07"})
    static final class Revoke implements Runnable {
        @Mixin
        Common common;

        @Option(names = "--token", paramLabel = "ID", description = "One, by its id (jti).")
        String token;

        @Option(names = "--client", paramLabel = "NAME", description = "Every one of a client.")
        String client;

        @Option(names = "--api", paramLabel = "NAME", description = "Every one for an API.")
        String api;

        @Option(names = "--approval", paramLabel = "ID", description = "Every one that leans on an approval.")
        String approval;

        @Override
        public void run() {
            long named = Stream.of(token, client, api, approval)
                    .filter(Objects::nonNull)
                    .count();
            if (named != 1)
                throw new Failure(
                        Failure.WRONG_USAGE,
                        "Say which tokens are to end: one of --token, --client, --api, --approval.");
            JsonNode answer = common.admin()
                    .post(
                            common.path("tokens", "revoke"),
                            new RevokeWanted(token, client, api, approval),
                            JsonNode.class)
                    .json();
            common.say(answer, () -> common.out().done("They are refused from now on.", "admit token active"));
        }
    }
}
