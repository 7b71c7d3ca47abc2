package dev.admit.core.route;

import dev.admit.contract.RouteLimits;
import dev.admit.core.change.Fields;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Reads how much passes a route, and says what cannot be taken. */
public final class LimitsReading {
    private static final Pattern RATE = Pattern.compile("(\\d{1,9}) per (\\S+) by (\\S+)");
    private static final Pattern QUOTA = Pattern.compile("(\\d{1,12}) per (\\S+) by (\\S+)");
    private static final int MOST = 30;
    private static final int LEAST_HEADERS = 256;

    private LimitsReading() {}

    static Limits read(Fields fields, RouteLimits wanted) {
        List<Limits.Rate> rates = rates(fields, "/limits/rates", wanted.rates());
        List<Limits.Quota> quotas = quotas(fields, "/limits/quotas", wanted.quotas());
        if (wanted.concurrent() != null && wanted.concurrent() < 1)
            fields.fault(
                    "/limits/concurrent",
                    "1 or more",
                    String.valueOf(wanted.concurrent()),
                    "Remove the route to let nobody pass.");
        if (wanted.body() != null && wanted.body() < 0)
            fields.fault("/limits/body", "a number of bytes", String.valueOf(wanted.body()), "0 takes no body.");
        if (wanted.headers() != null && wanted.headers() < LEAST_HEADERS)
            fields.fault(
                    "/limits/headers",
                    "at least %d bytes".formatted(LEAST_HEADERS),
                    String.valueOf(wanted.headers()),
                    "A request with a token does not fit into less.");
        return new Limits(
                rates,
                quotas,
                Optional.ofNullable(wanted.concurrent()),
                Optional.ofNullable(wanted.body()),
                Optional.ofNullable(wanted.headers()));
    }

    public static List<Limits.Rate> rates(Fields fields, String pointer, @Nullable List<String> wanted) {
        return each(fields, pointer, wanted, LimitsReading::rate);
    }

    public static List<Limits.Quota> quotas(Fields fields, String pointer, @Nullable List<String> wanted) {
        return each(fields, pointer, wanted, LimitsReading::quota);
    }

    private interface One<T> {
        Optional<T> read(Fields fields, String pointer, String text);
    }

    private static <T> List<T> each(Fields fields, String pointer, @Nullable List<String> wanted, One<T> one) {
        List<String> said = Fields.orNone(wanted);
        if (said.size() > MOST) fields.fault(pointer, "at most " + MOST, said.size() + " of them", "Name fewer.");
        List<T> all = new ArrayList<>();
        for (int i = 0; i < said.size(); i++)
            one.read(fields, pointer + "/" + i, said.get(i)).ifPresent(all::add);
        return List.copyOf(all);
    }

    private static Optional<Limits.Rate> rate(Fields fields, String pointer, String text) {
        Matcher parts = RATE.matcher(text == null ? "" : text.strip());
        if (parts.matches() && Integer.parseInt(parts.group(1)) > 0) {
            Optional<Duration> per =
                    fields.duration(pointer, parts.group(2), Duration.ofSeconds(1), Duration.ofDays(1));
            Optional<Limits.By> by = fields.word(pointer, parts.group(3), Limits.By.class, null);
            if (per.isPresent() && by.isPresent())
                return Optional.of(new Limits.Rate(by.get(), Integer.parseInt(parts.group(1)), per.get()));
            return Optional.empty();
        }
        fields.fault(
                pointer,
                "so many per so long by client, person, address or route",
                text == null ? "nothing" : Fields.quoted(text),
                "Write such as 60 per 1m by client.");
        return Optional.empty();
    }

    private static Optional<Limits.Quota> quota(Fields fields, String pointer, String text) {
        Matcher parts = QUOTA.matcher(text == null ? "" : text.strip());
        if (parts.matches() && Long.parseLong(parts.group(1)) > 0) {
            Optional<Limits.Period> period = fields.word(pointer, parts.group(2), Limits.Period.class, null);
            Optional<Limits.By> by = fields.word(pointer, parts.group(3), Limits.By.class, null);
            // Addresses are without number, and each would be kept until the month ends.
            if (by.filter(it -> it == Limits.By.ADDRESS).isPresent())
                fields.fault(pointer, "by client, person or route", "by address", "Use a rate: 60 per 1m by address.");
            else if (period.isPresent() && by.isPresent())
                return Optional.of(new Limits.Quota(by.get(), Long.parseLong(parts.group(1)), period.get()));
            return Optional.empty();
        }
        fields.fault(
                pointer,
                "so many per day or per month by client, person or route",
                text == null ? "nothing" : Fields.quoted(text),
                "Write such as 100000 per month by client.");
        return Optional.empty();
    }
}
