package dev.admit.core.key;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * A key's life. It follows from when each key of the issuer begins to sign, so that no job has to run for one to take
 * over.
 *
 * @param signsUntil when the next one takes over; {@code Instant.MAX} while none is to
 * @param verifiesUntil when the last token it can have signed has expired
 */
public record KeySpan(
        String kid,
        SigningKeys.Purpose purpose,
        String algorithm,
        Instant createdAt,
        boolean imported,
        Instant signsFrom,
        Instant signsUntil,
        Instant verifiesUntil,
        Optional<Instant> removedAt) {

    public enum State {
        /** Published, so that everyone has it when it begins to sign. */
        UPCOMING,
        ACTIVE,
        /** Signs no more; what it signed is still good. */
        RETIRING,
        RETIRED,
        /** Removed in an emergency: nothing it signed is good. */
        REMOVED;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    public State stateAt(Instant now) {
        if (removedAt.isPresent()) return State.REMOVED;
        if (now.isBefore(signsFrom)) return State.UPCOMING;
        if (now.isBefore(signsUntil)) return State.ACTIVE;
        return now.isBefore(verifiesUntil) ? State.RETIRING : State.RETIRED;
    }

    /**
     * @param kept the keys of one issuer
     * @param longest no token lives longer.
     * @return for each purpose, the one that signs last first
     */
    public static List<KeySpan> of(List<SigningKeys.Stored> kept, Duration longest) {
        List<KeySpan> spans = new ArrayList<>();
        for (SigningKeys.Purpose purpose : SigningKeys.Purpose.values()) {
            spans.addAll(
                    ofOne(kept.stream().filter(key -> key.purpose() == purpose).toList(), longest));
        }
        return List.copyOf(spans);
    }

    private static List<KeySpan> ofOne(List<SigningKeys.Stored> kept, Duration longest) {
        List<KeySpan> spans = new ArrayList<>();
        Instant next = Instant.MAX;
        for (SigningKeys.Stored key : kept.stream()
                .sorted(Comparator.comparing(SigningKeys.Stored::signsFrom)
                        .thenComparing(SigningKeys.Stored::createdAt)
                        .reversed())
                .toList()) {
            boolean never = next.equals(Instant.MAX);
            spans.add(new KeySpan(
                    key.kid(),
                    key.purpose(),
                    key.algorithm(),
                    key.createdAt(),
                    key.imported(),
                    key.signsFrom(),
                    next,
                    never ? Instant.MAX : next.plus(longest),
                    key.removedAt()));
            if (key.removedAt().isEmpty()) next = key.signsFrom();
        }
        return spans;
    }
}
