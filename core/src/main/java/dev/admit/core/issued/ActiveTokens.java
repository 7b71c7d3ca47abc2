package dev.admit.core.issued;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.audit.AuditTrail;
import dev.admit.core.change.Page;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.token.IssuedToken;
import dev.admit.core.token.Lifetime;
import dev.admit.core.token.Revocations;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Which of the tokens that were issued may still be active: not expired, not revoked, their key still good. */
public final class ActiveTokens {
    /** More are not counted one by one. */
    private static final int MOST_COUNTED = 100_000;

    private final AuditTrail trail;
    private final Revocations revocations;

    public ActiveTokens(AuditTrail trail, Revocations revocations) {
        this.trail = trail;
        this.revocations = revocations;
    }

    /** @param exact false when there are more than were counted */
    public record Counts(List<Count> counts, boolean exact) {}

    public record Count(String client, String api, long tokens) {}

    public Counts count(CompiledIssuer issuer, Instant now) {
        Map<List<String>, Long> counts = new TreeMap<>(
                (one, other) -> (one.get(0) + " " + one.get(1)).compareTo(other.get(0) + " " + other.get(1)));
        int seen = 0;
        Optional<String> after = Optional.empty();
        do {
            Page<AuditLine> page =
                    trail.issued(issuer.issuer().id(), "", "", Optional.of(now), new Page.Ask(after, Page.Ask.MOST));
            for (AuditLine line : page.items()) {
                if (line.at().isBefore(now.minus(Lifetime.LONGEST))) return counts(counts, true);
                if (ending(line, issuer, now).isEmpty()) counts.merge(List.of(line.who(), line.on()), 1L, Long::sum);
            }
            seen += page.items().size();
            after = page.next();
        } while (after.isPresent() && seen < MOST_COUNTED);
        return counts(counts, after.isEmpty());
    }

    private static Counts counts(Map<List<String>, Long> counts, boolean exact) {
        List<Count> all = new ArrayList<>();
        counts.forEach((what, tokens) -> all.add(new Count(what.get(0), what.get(1), tokens)));
        return new Counts(all, exact);
    }

    /** Why a token that was issued is no longer active, as a phrase; empty while it may be. */
    public Optional<String> ending(AuditLine line, CompiledIssuer issuer, Instant now) {
        AuditLine.Token token = line.token().orElseThrow();
        if (!now.isBefore(token.expiresAt())) return Optional.of("expired");
        Optional<IssuedToken> issued = IssuedToken.read(issuer.issuer().id(), line.whoId(), token.id(), line.after());
        if (issued.isEmpty()) return Optional.of("not readable");
        boolean keyGone = !issued.get().kid().isEmpty()
                && issuer.keys().withId(issued.get().kid(), now).isEmpty();
        if (keyGone) return Optional.of("signed with a key that was removed");
        return revocations.ending(issued.get()).isPresent() ? Optional.of("revoked") : Optional.empty();
    }
}
