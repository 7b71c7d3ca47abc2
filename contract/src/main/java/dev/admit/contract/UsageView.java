package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;

/**
 * What a subscription used.
 *
 * @param quotas each against what it allows
 * @param days requests of the last 30 days, oldest first, in UTC; those without one are there with nothing
 */
public record UsageView(List<Quota> quotas, List<Day> days) {

    /**
     * @param quota such as '100000 per month by client'
     * @param endsAt when it begins anew
     */
    public record Quota(
            String quota,
            long used,
            long most,
            @JsonProperty("ends_at") Instant endsAt) {}

    /**
     * Requests of a day.
     *
     * @param day such as 2026-11-30
     * @param admitted let through
     * @param limited refused, because a limit of the plan had no room
     */
    public record Day(String day, long admitted, long limited) {}
}
