package dev.admit.core.route;

import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Fields;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Numbers a change to an issuer's routes and keeps them as they were, in the transaction of the change. */
public final class KeepRevision {
    private final Issuers issuers;
    private final Revisions revisions;
    private final Clock clock;

    public KeepRevision(Issuers issuers, Revisions revisions, Clock clock) {
        this.issuers = issuers;
        this.revisions = revisions;
        this.clock = clock;
    }

    /** @param why as they said; null and too much of it are left out */
    Revision revision(Issuer issuer, List<Revisions.Step> steps, String why, Actor by) {
        String said = why == null ? "" : why.strip().replaceAll("\\p{Cntrl}", " ");
        Revision made = new Revision(
                issuer.id(),
                issuers.nextRevision(issuer.id()),
                clock.instant(),
                by.name(),
                by.id(),
                said.substring(0, Math.min(said.length(), Fields.LONG_TEXT_LENGTH)));
        revisions.insert(made);
        for (Revisions.Step step : steps) {
            step.before().ifPresent(it -> revisions.ended(it.id(), made.number()));
            step.after().ifPresent(it -> revisions.began(it, made.number()));
        }
        return made;
    }

    /** What a revision changed, a sentence for each route. */
    public static List<String> inWords(List<Revisions.Step> steps) {
        List<String> words = new ArrayList<>();
        for (Revisions.Step step : steps) {
            Optional<Route> before = step.before();
            Optional<Route> after = step.after();
            if (before.isEmpty()) words.add("added " + after.orElseThrow().label());
            else if (after.isEmpty()) words.add("removed " + before.get().label());
            else
                Audit.differences(before.get(), after.get())
                        .forEach((member, both) -> words.add("%s: %s was %s and is %s"
                                .formatted(
                                        after.get().label(),
                                        member.replace('_', ' '),
                                        orNothing(both.getFirst()),
                                        orNothing(both.getLast()))));
        }
        return words;
    }

    private static String orNothing(String value) {
        return value.isEmpty() || value.equals("[]") || value.equals("{}") ? "nothing" : value;
    }
}
