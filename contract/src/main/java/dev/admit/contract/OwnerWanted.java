package dev.admit.contract;

/**
 * Who is to answer for what. @param person an address or id, @param api the name of an API, or @param client of a
 * client
 */
public record OwnerWanted(String person, String api, String client) {}
