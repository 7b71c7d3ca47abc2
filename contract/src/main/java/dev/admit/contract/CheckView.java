package dev.admit.contract;

/**
 * One step of a decision. @param outcome passed, refused or skipped, @param why of a skipped one, @param nanos how long
 * it took; null where that was not measured
 */
public record CheckView(String check, String outcome, String expected, String received, String why, Integer nanos) {}
