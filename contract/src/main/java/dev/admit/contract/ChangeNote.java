package dev.admit.contract;

/**
 * What changed about an API, for those who call it.
 *
 * @param date the day, such as 2026-11-30
 * @param text one sentence or two, in Markdown
 */
public record ChangeNote(String date, String text) {}
