package dev.admit.core.subscription;

import dev.admit.contract.UsageView;
import dev.admit.core.limit.Quotas;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscription;
import dev.admit.core.plan.Usage;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** What a subscription used, against what it may. */
public final class ReadUsage {
    private static final int DAYS = 30;

    private final Plans plans;
    private final Quotas quotas;
    private final Usage usage;
    private final Clock clock;

    public ReadUsage(Plans plans, Quotas quotas, Usage usage, Clock clock) {
        this.plans = plans;
        this.quotas = quotas;
        this.usage = usage;
        this.clock = clock;
    }

    public UsageView of(Subscription it) {
        Instant now = clock.instant();
        LocalDate from = now.atZone(ZoneOffset.UTC).toLocalDate().minusDays(DAYS - 1L);
        Map<LocalDate, Usage.Day> days =
                usage.of(it.id(), from).stream().collect(Collectors.toMap(Usage.Day::day, day -> day));
        return new UsageView(
                plans
                        .find(it.planId())
                        .map(plan -> plan.contentAt(it.onVersion(), now))
                        .map(Plan.Content::quotas)
                        .orElse(List.of())
                        .stream()
                        .map(quota -> new UsageView.Quota(
                                quota.toString(),
                                quotas.used(it.id(), quota, "", now),
                                quota.requests(),
                                quota.period().end(now)))
                        .toList(),
                from.datesUntil(from.plusDays(DAYS))
                        .map(day -> {
                            Usage.Day of = days.getOrDefault(day, new Usage.Day(it.id(), day, 0, 0));
                            return new UsageView.Day(day.toString(), of.admitted(), of.limited());
                        })
                        .toList());
    }
}
