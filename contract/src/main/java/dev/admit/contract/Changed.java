package dev.admit.contract;

import java.util.List;

/**
 * What a change came to.
 *
 * @param now the thing as it is now
 * @param notes what Admit did or advises
 */
public record Changed<T>(T now, List<String> notes) {}
