package dev.admit.core.upstream;

import dev.admit.core.key.MasterKey;
import dev.admit.core.trust.FindKeys;
import dev.admit.core.trust.FindKeys.Step;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Presents an upstream credential to its upstream once, outside every route, and tells each step. */
public final class TryCredential {
    /** Asks an upstream for something with one header more. */
    public interface Call {
        /**
         * @return the status.
         * @throws FindKeys.NotFetched with what came instead, as a phrase
         */
        int get(URI address, String header, String value) throws FindKeys.NotFetched;
    }

    private final Presenting presenting;
    private final MasterKey masterKey;
    private final Call call;

    public TryCredential(Presenting presenting, MasterKey masterKey, Call call) {
        this.presenting = presenting;
        this.masterKey = masterKey;
        this.call = call;
    }

    /** @param path below the upstream; may be empty */
    public List<Step> on(UpstreamCredentials.Stored kept, String path) {
        String secret =
                new String(masterKey.open(kept.sealed(), kept.credential().sealedAs()), StandardCharsets.UTF_8);
        List<Step> steps = new ArrayList<>();
        Optional<Presenting.Presented> presented = presented(kept.credential(), secret, steps);
        presented.ifPresent(it -> steps.add(upstream(kept.credential(), path, it)));
        return steps;
    }

    private Optional<Presenting.Presented> presented(UpstreamCredential it, String secret, List<Step> steps) {
        if (it.shown()
                instanceof UpstreamCredential.Shown.Token token) { // a new one, because the test is of the way to it
            AskForToken.Outcome outcome = presenting.tryOut(token, secret);
            steps.addAll(outcome.steps());
            return outcome.token().map(text -> new Presenting.Presented("Authorization", "Bearer " + text));
        }
        Presenting.Presented fixed = presenting.fixed(it.shown(), secret).orElseThrow();
        steps.add(new Step("credential", true, "the header %s, from what is sealed".formatted(fixed.header())));
        return Optional.of(fixed);
    }

    private Step upstream(UpstreamCredential it, String path, Presenting.Presented presented) {
        String asked = path.isEmpty() || path.startsWith("/") ? path : "/" + path;
        try {
            URI address = URI.create(it.upstream() + asked);
            if (!it.isFor(address.normalize()))
                return new Step("upstream", false, "%s does not lie below %s".formatted(asked, it.upstream()));
            int status = call.get(address, presented.header(), presented.value());
            boolean refused = status == 401 || status == 403;
            return new Step(
                    "upstream",
                    !refused && status < 500,
                    "GET %s answered %d%s"
                            .formatted(address, status, refused ? ": it does not take the credential" : ""));
        } catch (FindKeys.NotFetched why) {
            return new Step("upstream", false, "%s: %s".formatted(it.upstream() + asked, why.getMessage()));
        } catch (IllegalArgumentException noPath) {
            return new Step("upstream", false, "the path cannot be read");
        }
    }
}
