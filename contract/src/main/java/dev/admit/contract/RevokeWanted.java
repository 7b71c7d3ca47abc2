package dev.admit.contract;

/**
 * Which tokens are to end; exactly one member. @param token its id (jti), @param client by name, @param api by
 * name, @param approval by id
 */
public record RevokeWanted(String token, String client, String api, String approval) {}
