package dev.admit.contract;

/**
 * A secret to be made. @param lifetime such as 90d, or never where allowed, @param overlap how long the others live on
 * when they are replaced
 */
public record SecretWanted(String label, String lifetime, String overlap) {}
