package dev.admit.core.change;

import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Looks up what must be there, because whoever named it found it there. */
public final class Known {
    private Known() {}

    /** @throws IllegalStateException when there is nothing by that key */
    public static <K, V> V in(Map<K, V> all, @Nullable K key) {
        V found = key == null ? null : all.get(key);
        if (found == null) throw new IllegalStateException("nothing is known by the key " + key);
        return found;
    }

    /** A text of JSON that this service wrote itself. */
    public static String text(Map<String, Object> json, String name) {
        return (String) in(json, name);
    }

    /** A whole number of JSON that this service wrote itself. */
    public static long number(Map<String, Object> json, String name) {
        return ((Number) in(json, name)).longValue();
    }
}
