package dev.admit.contract;

/** A secret to be made. @param lifetime such as 90d; 90 days when left out */
public record SecretWanted(String label, String lifetime) {}
