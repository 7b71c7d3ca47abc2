package dev.admit.contract;

import java.util.List;

/**
 * Whether the records are whole.
 *
 * @param faults what is wrong, as sentences
 */
public record ServiceCheck(boolean whole, List<String> faults) {}
