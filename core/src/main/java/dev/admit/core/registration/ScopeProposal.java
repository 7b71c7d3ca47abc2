package dev.admit.core.registration;

import dev.admit.core.registry.Api;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scope.Approver;
import dev.admit.core.registry.Scope.Effect;
import dev.admit.core.registry.Scope.For;
import dev.admit.core.registry.Scope.Reach;
import java.util.ArrayList;
import java.util.List;

/** What Admit proposes for a scope from what its designer weighed: what it does, whom it reaches, who holds it. */
record ScopeProposal(String consequence, Approver approver) {

    static ScopeProposal from(Api api, String scopeName, Effect effect, Reach reach, For forWhom) {
        // <api>.<noun>.<verb>: without the noun two scopes of one API would read alike. A name of another form, brought
        // from elsewhere, stands whole.
        String[] parts = scopeName.matches("[A-Za-z0-9_-]+(\\.[A-Za-z0-9_-]+)*")
                ? scopeName.split("\\.")
                : new String[] {scopeName};
        String verb = parts.length == 1 ? scopeName : parts[parts.length - 1].replace('-', ' ');
        String noun = parts.length < 3
                ? "data"
                : String.join(" ", List.of(parts).subList(1, parts.length - 1)).replace('-', ' ');
        String does =
                switch (effect) {
                    case READS -> "see";
                    case CHANGES -> "change";
                    case BOTH -> "see and change";
                };
        String lasting = effect == Effect.READS ? "nothing is changed" : "changes take effect at once";
        String consequence =
                "May %s %s %s of %s (%s); %s.".formatted(does, Scope.WHOSE, noun, api.title(), verb, lasting);
        // Little harm and only their own: the person. In doubt, and always without a person: an administrator.
        boolean personal = forWhom.people() && reach == Reach.OWN && effect == Effect.READS;
        return new ScopeProposal(consequence, personal ? Approver.PERSON : Approver.ADMINISTRATOR);
    }

    /** A word about scopes that permit more at once than their callers may need. */
    static List<String> advice(Scope scope, int scopesOfTheApi) {
        List<String> advice = new ArrayList<>();
        if (scope.effect() == Effect.BOTH) {
            advice.add("%s both reads and changes: two scopes let a caller hold only the one it needs."
                    .formatted(scope.name()));
        } else if (scopesOfTheApi == 1 && scope.effect() == Effect.CHANGES) {
            advice.add(
                    "%s is the only scope of this API: a second one for reading keeps readers from changing anything."
                            .formatted(scope.name()));
        }
        return advice;
    }
}
