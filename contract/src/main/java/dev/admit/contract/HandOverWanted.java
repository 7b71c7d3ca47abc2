package dev.admit.contract;

/** Who hands over what they answer for, and to whom; addresses or ids. */
public record HandOverWanted(String from, String to) {}
