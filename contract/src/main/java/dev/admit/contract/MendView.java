package dev.admit.contract;

/** What would turn a refusal into a pass. @param who acts when it is not the caller; may be null, as the command */
public record MendView(String sentence, String command, String who) {}
