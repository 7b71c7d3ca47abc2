package dev.admit.contract;

/** One step of a decision. @param outcome passed, refused or skipped, @param why of a skipped one */
public record CheckView(String check, String outcome, String expected, String came, String why) {}
