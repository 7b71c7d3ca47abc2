package dev.admit.contract;

/**
 * One field that cannot be taken.
 *
 * @param pointer where it stands (RFC 6901)
 */
public record FaultView(String pointer, String expected, String received, String fix) {}
