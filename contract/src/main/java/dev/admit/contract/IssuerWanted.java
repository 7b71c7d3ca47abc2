package dev.admit.contract;

/** An issuer to be made. @param title the name when left out */
public record IssuerWanted(String name, String title) {}
