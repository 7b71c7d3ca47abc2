package dev.admit.core.plan;

import dev.admit.core.route.Limits;
import dev.admit.core.route.PathPattern;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.SortedSet;
import java.util.TreeSet;

/**
 * Operations and limits that clients can have.
 *
 * @param earlier what subscriptions that began before a change still have, the newest first
 */
public record Plan(
        String id,
        String issuerId,
        String name,
        String title,
        String description,
        Approval approval,
        Content content,
        Terms terms,
        List<Earlier> earlier,
        long version,
        Instant changedAt) {

    /** Who says yes to a subscription. */
    public enum Approval {
        AUTOMATIC,
        /** An owner of one of its APIs, or a person with an admin role. */
        OWNER;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * Calls that a plan covers.
     *
     * @param methods empty for any
     */
    public record Operation(String apiId, SortedSet<String> methods, PathPattern path) {
        /**
         * @param host that a request is for, in lower case
         * @param segments of its path, decoded
         */
        public boolean covers(String method, String host, List<String> segments) {
            boolean its =
                    methods.isEmpty() || methods.contains(method) || method.equals("HEAD") && methods.contains("GET");
            return its && path.fits(host, segments);
        }

        /** {@code GET /tides/**}. */
        public String label() {
            return methods.isEmpty() ? path.toString() : String.join(",", methods) + " " + path;
        }
    }

    /**
     * What a subscription is good for.
     *
     * @param rates each counted for the subscription, as the next
     * @param secretLifetime the longest that a new secret of a subscribed client lasts; empty for any
     */
    public record Content(
            List<Operation> operations,
            List<Limits.Rate> rates,
            List<Limits.Quota> quotas,
            Optional<Duration> secretLifetime) {

        public Set<String> apiIds() {
            Set<String> ids = new TreeSet<>();
            for (Operation it : operations) ids.add(it.apiId());
            return ids;
        }

        Content without(String apiId) {
            return new Content(
                    operations.stream().filter(it -> !it.apiId().equals(apiId)).toList(),
                    rates,
                    quotas,
                    secretLifetime);
        }

        public boolean covers(String apiId, String method, String host, List<String> segments) {
            for (Operation it : operations)
                if (it.apiId().equals(apiId) && it.covers(method, host, segments)) return true;
            return false;
        }
    }

    /**
     * What has to be accepted.
     *
     * @param version counts what the text was; 0 while there never was any
     * @param text in Markdown; empty for nothing to accept
     */
    public record Terms(long version, String text) {
        public static final Terms NONE = new Terms(0, "");

        public boolean wantAcceptance() {
            return !text.isEmpty();
        }
    }

    /**
     * What a plan was before a change.
     *
     * @param version of the plan
     * @param until when those that still have it go over to what is there now
     */
    public record Earlier(long version, Content content, Instant until) {}

    /** The same without the calls of an API that is gone. */
    public Plan without(String apiId) {
        return new Plan(
                id,
                issuerId,
                name,
                title,
                description,
                approval,
                content.without(apiId),
                terms,
                earlier.stream()
                        .map(it -> new Earlier(it.version(), it.content().without(apiId), it.until()))
                        .toList(),
                version + 1,
                changedAt);
    }

    /** What a subscription that began with a version has at a time. */
    public Content contentAt(Optional<Long> onVersion, Instant at) {
        return earlier(onVersion)
                .filter(it -> at.isBefore(it.until()))
                .map(Earlier::content)
                .orElse(content);
    }

    public Optional<Earlier> earlier(Optional<Long> onVersion) {
        return onVersion.flatMap(version ->
                earlier.stream().filter(it -> it.version() == version).findFirst());
    }
}
