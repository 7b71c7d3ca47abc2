package dev.admit.contract;

/** Why a change is made; null for nothing. */
public record WhyWanted(String why) {}
