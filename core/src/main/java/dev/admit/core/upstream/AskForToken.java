package dev.admit.core.upstream;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Known;
import dev.admit.core.trust.FindKeys;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.text.ParseException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Asks an issuer elsewhere for a token, step by step, each told. No step quotes the secret or the token. */
public final class AskForToken {
    /** What an endpoint elsewhere answered. */
    public record Answer(int status, String body) {}

    /** Posts a form: bounded in time and size, no redirects. */
    public interface Post {
        /**
         * @param authorization the header; null for none.
         * @throws FindKeys.NotFetched with what came instead, as a phrase
         */
        Answer post(URI address, @Nullable String authorization, String form) throws FindKeys.NotFetched;

        /** The same for an address that another server named: see {@link FindKeys.Fetch#from(URI, URI)}. */
        default Answer post(URI address, URI namedBy, @Nullable String authorization, String form)
                throws FindKeys.NotFetched {
            return post(address, authorization, form);
        }
    }

    /**
     * @param token empty when a step failed, which is then the last
     * @param life as the endpoint says, or a minute where it says nothing
     */
    public record Outcome(List<FindKeys.Step> steps, Optional<String> token, Duration life) {
        public Optional<String> fault() {
            return steps.stream().filter(it -> !it.good()).findFirst().map(it -> it.step() + ": " + it.said());
        }

        @Override
        public String toString() {
            return "Outcome" + steps;
        }
    }

    private static final Duration UNSAID = Duration.ofMinutes(1);
    private final FindKeys.Fetch fetch;
    private final Post post;

    public AskForToken(FindKeys.Fetch fetch, Post post) {
        this.fetch = fetch;
        this.post = post;
    }

    public Outcome ask(UpstreamCredential.Shown.Token how, String secret) {
        List<FindKeys.Step> steps = new ArrayList<>();
        Optional<URI> endpoint =
                how.tokenEndpoint().or(() -> endpointOf(how.issuer().orElseThrow(), steps));
        if (endpoint.isEmpty()) return new Outcome(steps, Optional.empty(), UNSAID);
        Map<String, String> form = new LinkedHashMap<>();
        form.put("grant_type", "client_credentials");
        how.scope().ifPresent(it -> form.put("scope", it));
        form.putAll(how.parameters());
        if (how.inBody()) {
            form.put("client_id", how.clientId());
            form.put("client_secret", secret);
        }
        // RFC 6749 §2.3.1: id and secret are form-encoded before they are joined.
        String basic = "Basic "
                + Base64.getEncoder()
                        .encodeToString(
                                (encoded(how.clientId()) + ":" + encoded(secret)).getBytes(StandardCharsets.UTF_8));
        try {
            return read(
                    post.post(
                            endpoint.get(),
                            how.tokenEndpoint().or(how::issuer).orElseThrow(),
                            how.inBody() ? null : basic,
                            joined(form)),
                    endpoint.get(),
                    steps);
        } catch (FindKeys.NotFetched why) {
            steps.add(new FindKeys.Step("token endpoint", false, "%s: %s".formatted(endpoint.get(), why.getMessage())));
            return new Outcome(steps, Optional.empty(), UNSAID);
        }
    }

    /** In the metadata under either well-known name (RFC 8414 §3, OpenID Connect Discovery §4). */
    private Optional<URI> endpointOf(URI issuer, List<FindKeys.Step> steps) {
        String base = issuer.toString().replaceAll("/+$", "");
        String path = issuer.getRawPath() == null ? "" : issuer.getRawPath().replaceAll("/+$", "");
        URI other = URI.create(
                base.substring(0, base.length() - path.length()) + "/.well-known/oauth-authorization-server" + path);
        String said = "";
        for (URI at : List.of(URI.create(base + "/.well-known/openid-configuration"), other)) {
            try {
                Map<String, Object> metadata = JSONObjectUtils.parse(fetch.from(at));
                if (!issuer.toString().equals(metadata.get("issuer"))) {
                    said = "%s names another issuer: %s"
                            .formatted(at, Fields.quoted(String.valueOf(metadata.get("issuer"))));
                } else if (metadata.get("token_endpoint") instanceof String endpoint) {
                    steps.add(new FindKeys.Step("metadata", true, at.toString()));
                    return Optional.of(URI.create(endpoint));
                } else {
                    said = at + " names no token_endpoint";
                }
            } catch (FindKeys.NotFetched why) {
                if (said.isEmpty()) said = "%s: %s".formatted(at, why.getMessage());
            } catch (ParseException | IllegalArgumentException unreadable) {
                said = at + " cannot be read";
            }
        }
        steps.add(new FindKeys.Step("metadata", false, said));
        return Optional.empty();
    }

    private static Outcome read(Answer answer, URI endpoint, List<FindKeys.Step> steps) {
        Map<String, Object> json = object(answer.body());
        if (answer.status() != 200) {
            String error = json.get("error") instanceof String text ? ", " + Fields.quoted(text) : "";
            String more = json.get("error_description") instanceof String text ? ": " + Fields.quoted(text) : "";
            steps.add(new FindKeys.Step(
                    "token endpoint", false, "%s answered %d%s%s".formatted(endpoint, answer.status(), error, more)));
            return new Outcome(steps, Optional.empty(), UNSAID);
        }
        steps.add(new FindKeys.Step("token endpoint", true, endpoint + " answered 200"));
        boolean bearer = json.get("access_token") instanceof String token
                && token.matches("[!-~]{1,8192}")
                && "bearer".equalsIgnoreCase(String.valueOf(json.get("token_type")));
        Duration life = json.get("expires_in") instanceof Number seconds && seconds.longValue() > 0
                ? Duration.ofSeconds(Math.min(seconds.longValue(), 86_400))
                : UNSAID;
        String said = bearer
                ? "a bearer token for %s%s"
                        .formatted(
                                Fields.written(life),
                                json.get("scope") instanceof String scope ? ", scope " + Fields.quoted(scope) : "")
                : "no bearer token in the answer";
        steps.add(new FindKeys.Step("token", bearer, said));
        return new Outcome(steps, bearer ? Optional.of(Known.text(json, "access_token")) : Optional.empty(), life);
    }

    private static Map<String, Object> object(String body) {
        try {
            return JSONObjectUtils.parse(body);
        } catch (ParseException none) {
            return Map.of();
        }
    }

    private static String joined(Map<String, String> form) {
        return String.join(
                "&",
                form.entrySet().stream()
                        .map(it -> encoded(it.getKey()) + "=" + encoded(it.getValue()))
                        .toList());
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }
}
