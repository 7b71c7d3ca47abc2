package dev.admit.core.decision;

import java.util.ArrayList;
import java.util.List;

/** A decision in sentences: what was decided, what went before, what was compared, and how to fix it. */
public final class Explanation {
    private Explanation() {}

    /** @param sent whether the request was made; else it is what would have come of it */
    public static List<String> of(Decision it, boolean sent) {
        List<String> sentences = new ArrayList<>();
        String request = it.about().method() + " " + it.about().path();
        String caller = it.about().clientName().isEmpty()
                ? it.about().clientId().isEmpty()
                        ? "an unknown caller"
                        : it.about().clientId()
                : it.about().clientName();
        sentences.add("%s of %s %s %s by the %s."
                .formatted(
                        request,
                        caller,
                        sent ? "was" : "would be",
                        it.verdict(),
                        it.endpoint() == Endpoint.GATEWAY
                                ? "gateway"
                                : it.endpoint() == Endpoint.TOKEN ? "token endpoint" : "service"));
        if (!it.about().route().isEmpty())
            sentences.add("The route %s answers it%s."
                    .formatted(
                            it.about().route(),
                            it.about().revision() > 0
                                    ? ", as of revision " + it.about().revision()
                                    : ""));
        List<String> passed = it.checks().stream()
                .filter(CheckResult.Passed.class::isInstance)
                .map(CheckResult::check)
                .toList();
        if (!passed.isEmpty()) sentences.add("It passed: %s.".formatted(String.join(", ", passed)));
        it.refusal().ifPresent(why -> refused(it, why, sentences));
        for (String done : it.done()) sentences.add(Character.toUpperCase(done.charAt(0)) + done.substring(1) + ".");
        if (it.refusal().isEmpty())
            sentences.add(
                    it.answered() >= 500
                            ? "What lies behind it answered %d: the fault is there.".formatted(it.answered())
                            : "There is nothing to fix.");
        return List.copyOf(sentences);
    }

    private static void refused(Decision it, Refusal why, List<String> sentences) {
        String check = it.checks().stream()
                .filter(CheckResult.Refused.class::isInstance)
                .map(CheckResult::check)
                .findFirst()
                .orElse("first");
        sentences.add("The check %s refused it (%s): expected %s; received %s."
                .formatted(check, why.reason(), why.expected(), why.received()));
        sentences.add(why.fix().sentence());
        why.fix().command().ifPresent(command -> sentences.add("The command is: " + command));
        why.fix()
                .who()
                .ifPresent(who -> sentences.add(
                        "That is for %s. Ask them: %s asks you to look at %s %s, which was refused for %s."
                                .formatted(
                                        who,
                                        it.about().clientName().isEmpty()
                                                ? "a person"
                                                : it.about().clientName(),
                                        it.about().method(),
                                        it.about().path(),
                                        why.reason())));
    }
}
