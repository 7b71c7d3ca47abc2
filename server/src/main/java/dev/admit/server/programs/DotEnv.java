package dev.admit.server.programs;

import dev.admit.core.decision.Command;

/**
 * Settings as a .env file. A shell that reads it takes each value as it stands: owners and clients choose some of them.
 */
public final class DotEnv {
    private final StringBuilder lines = new StringBuilder();

    /** @param value empty where the reader fills it in */
    public DotEnv with(String name, Object value) {
        String text = value.toString();
        lines.append(name)
                .append('=')
                .append(text.isEmpty() ? "" : Command.quoted(text))
                .append('\n');
        return this;
    }

    @Override
    public String toString() {
        return lines.toString();
    }
}
