package dev.admit.contract;

/** An API as it is wanted. @param audience proposed when left out; what is left out of a change stays */
public record ApiWanted(String name, String title, String audience, String upstream) {}
