package dev.admit.server.pages;

import dev.admit.contract.UsageView;
import java.util.ArrayList;
import java.util.List;

/**
 * Requests by day, drawn as bars: a drawing of so many units, without script or styles.
 *
 * @param words the same in a sentence, for whoever does not see it
 */
public record UsageChart(List<Bar> bars, long most, String from, String to, String words) {
    public static final int HEIGHT = 60;
    public static final int STEP = 10;

    /**
     * @param limitedY where the part that was refused begins, on top of the other
     * @param words what it says of its day
     */
    public record Bar(int x, int y, int height, int limitedY, int limitedHeight, String words) {}

    static UsageChart of(List<UsageView.Day> days) {
        long most = days.stream()
                .mapToLong(it -> it.admitted() + it.limited())
                .max()
                .orElse(0);
        List<Bar> bars = new ArrayList<>();
        long admitted = 0;
        long limited = 0;
        for (int i = 0; i < days.size(); i++) {
            UsageView.Day it = days.get(i);
            admitted += it.admitted();
            limited += it.limited();
            if (it.admitted() + it.limited() == 0) continue;
            int height = height(it.admitted(), most);
            int above = height(it.limited(), most);
            bars.add(new Bar(
                    i * STEP,
                    HEIGHT - height,
                    height,
                    HEIGHT - height - above,
                    above,
                    "%s: %d admitted, %d over a limit".formatted(it.day(), it.admitted(), it.limited())));
        }
        return new UsageChart(
                bars,
                most,
                days.getFirst().day(),
                days.getLast().day(),
                "%d calls admitted and %d over a limit in the last %d days".formatted(admitted, limited, days.size()));
    }

    /** At least something where there is something. */
    private static int height(long part, long most) {
        return part == 0 ? 0 : (int) Math.max(1, part * HEIGHT / most);
    }

    public boolean empty() {
        return bars.isEmpty();
    }
}
