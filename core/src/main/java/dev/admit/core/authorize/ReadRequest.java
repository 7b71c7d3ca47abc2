package dev.admit.core.authorize;

import dev.admit.core.authorize.AuthorizationRequest.Mode;
import dev.admit.core.authorize.AuthorizationRequest.Prompt;
import dev.admit.core.authorize.AuthorizationRequest.Reply;
import dev.admit.core.change.Fields;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAddresses;
import dev.admit.core.registry.ClientKind;
import java.net.URI;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * Reads an authorization request: client and redirect first, because until they are known nobody may be sent anywhere.
 */
final class ReadRequest {
    private static final Pattern CHALLENGE = Pattern.compile("[A-Za-z0-9_-]{43}");
    private static final Set<String> STRENGTHS = Set.of("urn:admit:acr:1", "urn:admit:acr:2");
    static final int LONGEST_PASSED_BACK = 2_000;

    private final KnownClients clients;
    private final TrialSignIns trials;
    private final CompiledIssuer issuer;
    private final RequestParameters asked;
    private final Recorder decision;

    ReadRequest(
            KnownClients clients,
            TrialSignIns trials,
            CompiledIssuer issuer,
            RequestParameters asked,
            Recorder decision) {
        this.clients = clients;
        this.trials = trials;
        this.issuer = issuer;
        this.asked = asked;
        this.decision = decision;
    }

    sealed interface Reading {
        record Good(AuthorizationRequest request) implements Reading {}

        /** The client gets to know. */
        record Refused(Reply reply) implements Reading {}

        /** Nobody but the one who looks at the page gets to know: where the answer should go cannot be trusted. */
        record ForThePage() implements Reading {}
    }

    Reading read(Instant now) {
        Optional<KnownClient> client = readClient();
        if (client.isEmpty()) return new Reading.ForThePage();
        Optional<String> redirect = readRedirect(client.get().client());
        if (redirect.isEmpty()) return new Reading.ForThePage();
        Mode mode = asked.one("response_mode").filter("form_post"::equals).isPresent() ? Mode.FORM_POST : Mode.QUERY;
        Optional<String> state = asked.one("state").filter(it -> it.length() <= LONGEST_PASSED_BACK);
        Reply reply = new Reply(redirect.get(), mode, state, client.get().client());
        return readRest(client.get(), reply, now)
                .<Reading>map(Reading.Good::new)
                .orElse(new Reading.Refused(reply));
    }

    private Optional<KnownClient> readClient() {
        // Two ids, and which one is asked about differs by reader: so neither is believed.
        boolean twice =
                asked.all("client_id").size() > 1 || asked.all("redirect_uri").size() > 1;
        Optional<KnownClient> client = twice
                ? Optional.empty()
                : asked.one("client_id")
                        .flatMap(id -> clients.findFor(id, decision.from()))
                        .filter(it ->
                                it.client().issuerId().equals(issuer.issuer().id()));
        if (client.filter(it -> it.client().enabled()).isEmpty()) {
            return refuse(
                    "client",
                    Reason.UNKNOWN_CLIENT,
                    "a client of this issuer that is switched on",
                    client.isPresent() ? "one that is switched off" : "none that is known here",
                    Fix.of("Check client_id, and that it is registered with this issuer.", Action.of("client", "list"))
                            .by("the one who made the application"));
        }
        decision.client(client.get().client().id(), client.get().client().name());
        decision.add(CheckResult.passed(
                "client",
                "a client of this issuer that is switched on",
                client.get().client().name()));
        return client;
    }

    /** What came is proposed only where it could be registered for this client. */
    private Fix redirectFix(Client client, Optional<String> received) {
        String sentence = "Send one that is registered, or have this one registered.";
        if (received.filter(it -> ClientAddresses.couldBeRegistered(it, client.kind(), issuer.issuer()))
                .isEmpty())
            return Fix.of("Send one that is registered; this one cannot be.").by("the one who made the application");
        return Fix.of(sentence, Action.of("client", "change", client.name()).with("add-redirect-uri", received.get()))
                .by("an operator");
    }

    private Optional<String> readRedirect(Client client) {
        List<String> registered = client.addresses().redirects();
        Optional<String> received = asked.one("redirect_uri");
        // OAuth 2.1 §4.1.1 lets it be left out where one is registered; the exchange would have to guess, so it is
        // always wanted here.
        if (received.isPresent()
                && trials.accepts(
                        client.id(), received.get(), asked.one("state").orElse(""))) {
            decision.add(
                    CheckResult.passed("redirect", "the console, where an operator tries the client", received.get()));
            return received;
        }
        boolean good = received.isPresent()
                && registered.stream()
                        .anyMatch(it -> it.equals(received.get())
                                || client.kind() == ClientKind.NATIVE && isSameButPort(it, received.get()));
        if (!good) {
            return refuse(
                    "redirect",
                    Reason.REDIRECT_NOT_REGISTERED,
                    registered.isEmpty()
                            ? "a registered redirect_uri; this client has none"
                            : "one of the registered redirect URIs, character by character",
                    received.map(Fields::quoted).orElse("none"),
                    redirectFix(client, received));
        }
        decision.add(CheckResult.passed("redirect", "one of the registered redirect URIs", received.get()));
        return received;
    }

    /** RFC 8252 §7.3: the system gives a native application whichever port is free. */
    private static boolean isSameButPort(String registered, String received) {
        try {
            URI one = new URI(registered);
            URI other = new URI(received);
            boolean loopback = "http".equals(one.getScheme())
                    && Set.of("127.0.0.1", "[::1]", "localhost").contains(String.valueOf(one.getHost()));
            return loopback
                    && other.getPort() < 65536
                    && other.getRawUserInfo() == null
                    && other.getRawFragment() == null
                    && received.equals("http://" + one.getHost() + (other.getPort() < 0 ? "" : ":" + other.getPort())
                            + one.getRawPath() + (one.getRawQuery() == null ? "" : "?" + one.getRawQuery()));
        } catch (java.net.URISyntaxException none) {
            return false;
        }
    }

    private Optional<AuthorizationRequest> readRest(KnownClient client, Reply reply, Instant now) {
        Optional<String> repeated = asked.repeated();
        if (repeated.isPresent())
            return refuse(
                    "request",
                    Reason.REPEATED_PARAMETER,
                    "each parameter once",
                    "one of them twice",
                    Fix.of("Remove one; only resource may repeat."));
        // OpenID Connect Core §6: what is not supported is said so, rather than left out of account.
        if (asked.one("request").isPresent())
            return refuse(
                    "request",
                    Reason.REQUEST_OBJECT_NOT_TAKEN,
                    "plain parameters",
                    "a request object",
                    Fix.of("Send the parameters themselves."));
        if (asked.one("request_uri").isPresent())
            return refuse(
                    "request",
                    Reason.REQUEST_URI_NOT_TAKEN,
                    "plain parameters",
                    "a request_uri",
                    Fix.of("Send the parameters themselves."));
        if (asked.one("state").filter(it -> it.length() > LONGEST_PASSED_BACK).isPresent()
                || asked.one("nonce")
                        .filter(it -> it.length() > LONGEST_PASSED_BACK)
                        .isPresent()) {
            return refuse(
                    "request",
                    Reason.MALFORMED_REQUEST,
                    "state and nonce of at most %d characters".formatted(LONGEST_PASSED_BACK),
                    "a longer one",
                    Fix.of("Keep what is long, and send its hash."));
        }
        if (!readResponseType(client.client())) return Optional.empty();
        Optional<String> challenge = readChallenge();
        if (challenge.isEmpty()) return Optional.empty();
        Optional<Set<Prompt>> prompts = readPrompts();
        if (prompts.isEmpty()) return Optional.empty();
        Optional<Optional<Duration>> maxAge = readMaxAge();
        if (maxAge.isEmpty()) return Optional.empty();
        Optional<ReadScopes.Asked> scopes =
                new ReadScopes(issuer, client, now, decision).read(asked.one("scope"), asked.all("resource"));
        if (scopes.isEmpty()) return Optional.empty();
        Optional<String> acr = asked.one("acr_values").stream()
                .flatMap(it -> List.of(it.split(" +")).stream())
                .filter(STRENGTHS::contains)
                .findFirst();
        return Optional.of(new AuthorizationRequest(
                client,
                reply,
                scopes.get().scopes(),
                scopes.get().resources(),
                challenge.get(),
                asked.one("nonce"),
                prompts.get(),
                maxAge.get(),
                asked.one("login_hint").filter(hint -> hint.length() <= Fields.TEXT_LENGTH && Fields.isVisible(hint)),
                acr));
    }

    private boolean readResponseType(Client client) {
        String received = asked.one("response_type").orElse("none");
        Optional<String> mode = asked.one("response_mode");
        if (mode.isPresent() && !Set.of("query", "form_post").contains(mode.get())) {
            refuse(
                    "response-type",
                    Reason.MALFORMED_REQUEST,
                    "response_mode query or form_post",
                    Fields.quoted(mode.get()),
                    Fix.of("Leave it out, or choose one of them."));
            return false;
        }
        if (!received.equals("code")) {
            // RFC 9700 §2.1.2: tokens in the browser's address bar leak; the same client works with a code and PKCE.
            refuse(
                    "response-type",
                    received.equals("none") ? Reason.MALFORMED_REQUEST : Reason.RESPONSE_TYPE_NOT_GIVEN,
                    "response_type=code",
                    Fields.quoted(received),
                    Fix.of("Send response_type=code with code_challenge and code_challenge_method=S256, and "
                            + "exchange the code at the token endpoint."));
            return false;
        }
        if (!client.mayUse("authorization_code") || !issuer.issuer().settings().allows("authorization_code")) {
            refuse(
                    "response-type",
                    Reason.NO_SIGN_IN_CLIENT,
                    "a client that may use authorization_code",
                    client.name() + " of kind " + client.kind(),
                    GrantTypes.fix(issuer.issuer(), client, "authorization_code"));
            return false;
        }
        decision.add(CheckResult.passed("response-type", "response_type=code", "code"));
        return true;
    }

    private Optional<String> readChallenge() {
        Optional<String> challenge = asked.one("code_challenge");
        // RFC 7636 §4.3: without a method it would be plain, which the one who reads the request can answer.
        if (!asked.one("code_challenge_method").equals(Optional.of("S256"))
                || challenge.filter(it -> CHALLENGE.matcher(it).matches()).isEmpty()) {
            return refuse(
                    "pkce",
                    Reason.NO_CODE_CHALLENGE,
                    "code_challenge with code_challenge_method=S256",
                    challenge.isEmpty() ? "no code_challenge" : "another method, or no SHA-256",
                    Fix.of("Make a code_verifier of 43 to 128 characters, and send the base64url of its SHA-256 "
                            + "(RFC 7636 section 4.2)."));
        }
        decision.add(CheckResult.passed("pkce", "a code_challenge by S256", "one"));
        return challenge;
    }

    private Optional<Set<Prompt>> readPrompts() {
        Set<Prompt> prompts = EnumSet.noneOf(Prompt.class);
        for (String word : asked.one("prompt").map(it -> it.split(" +")).orElse(new String[0])) {
            Optional<Prompt> known = List.of(Prompt.values()).stream()
                    .filter(it -> it.name().toLowerCase(Locale.ROOT).equals(word))
                    .findFirst();
            if (known.isEmpty())
                return refuse(
                        "request",
                        Reason.MALFORMED_REQUEST,
                        "prompt none, login, consent, select_account or create",
                        Fields.quoted(word),
                        Fix.of("Choose among them."));
            prompts.add(known.get());
        }
        if (prompts.contains(Prompt.NONE) && prompts.size() > 1) {
            return refuse(
                    "request",
                    Reason.MALFORMED_REQUEST,
                    "prompt=none alone",
                    "others beside it",
                    Fix.of("Send none, or the others."));
        }
        return Optional.of(prompts);
    }

    private Optional<Optional<Duration>> readMaxAge() {
        Optional<String> received = asked.one("max_age");
        if (received.isEmpty()) return Optional.of(Optional.empty());
        if (received.get().matches("\\d{1,9}"))
            return Optional.of(Optional.of(Duration.ofSeconds(Long.parseLong(received.get()))));
        return refuse(
                "request",
                Reason.MALFORMED_REQUEST,
                "max_age in seconds",
                Fields.quoted(received.get()),
                Fix.of("Send a whole number."));
    }

    private <T> Optional<T> refuse(String check, Reason reason, String expected, String received, Fix fix) {
        decision.add(CheckResult.refused(check, reason, expected, received, fix));
        return Optional.empty();
    }
}
