package dev.admit.core.subscription;

import dev.admit.contract.PlanOperation;
import dev.admit.contract.PlanWanted;
import dev.admit.core.change.Fields;
import dev.admit.core.plan.Plan;
import dev.admit.core.route.Limits;
import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;

/** What a plan gives, in sentences: the same ones on every surface. */
public final class PlanSentences {
    private PlanSentences() {}

    /** @param apiName of an id */
    public static List<String> of(Plan plan, UnaryOperator<String> apiName) {
        List<String> said = new ArrayList<>(of(plan.content(), apiName));
        said.add(
                plan.approval() == Plan.Approval.AUTOMATIC
                        ? "A subscription begins at once."
                        : "An owner of one of its APIs approves each subscription.");
        if (plan.terms().wantAcceptance()) said.add("Its terms have to be accepted.");
        return List.copyOf(said);
    }

    public static List<String> of(Plan.Content it, UnaryOperator<String> apiName) {
        List<String> said = new ArrayList<>();
        for (Plan.Operation operation : it.operations())
            said.add("Covers %s of %s.".formatted(operation.label(), apiName.apply(operation.apiId())));
        it.rates().forEach(rate -> said.add("At most %s.".formatted(rate)));
        it.quotas().forEach(quota -> said.add("At most %s.".formatted(quota)));
        if (it.rates().isEmpty() && it.quotas().isEmpty()) said.add("Without limits of its own.");
        it.secretLifetime()
                .ifPresent(lifetime -> said.add(
                        "A new secret of a subscribed client lasts at most %s.".formatted(Fields.written(lifetime))));
        return List.copyOf(said);
    }

    /** What a change of what a plan gives comes to. */
    static List<String> differences(Plan.Content was, Plan.Content is, UnaryOperator<String> apiName) {
        List<String> before = of(was, apiName);
        List<String> after = of(is, apiName);
        List<String> said = new ArrayList<>();
        before.stream().filter(it -> !after.contains(it)).forEach(it -> said.add("No longer so: " + it));
        after.stream().filter(it -> !before.contains(it)).forEach(it -> said.add("New: " + it));
        return said;
    }

    /** A plan as one would have to want it. */
    public static PlanWanted said(Plan it, UnaryOperator<String> apiName) {
        return new PlanWanted(
                it.name(),
                it.title(),
                it.description(),
                operations(it, apiName),
                it.content().rates().stream().map(Limits.Rate::toString).toList(),
                it.content().quotas().stream().map(Limits.Quota::toString).toList(),
                it.approval().toString(),
                it.content().secretLifetime().map(Fields::written).orElse(null),
                it.terms().text(),
                null);
    }

    private static List<PlanOperation> operations(Plan it, UnaryOperator<String> apiName) {
        return it.content().operations().stream()
                .map(operation -> new PlanOperation(
                        apiName.apply(operation.apiId()),
                        List.copyOf(operation.methods()),
                        operation.path().toString()))
                .toList();
    }
}
