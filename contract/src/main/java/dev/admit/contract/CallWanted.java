package dev.admit.contract;

import java.util.Map;

/**
 * A request that the service is to send to its own gateway.
 *
 * @param path with a query where one is wanted
 * @param client to call as, with a trial token of its own; null for none
 * @param scope of that token
 * @param person what the console was handed after a person signed in for a client; null for none
 * @param token an access token to call with; null for none
 */
public record CallWanted(
        String method,
        String host,
        String path,
        Map<String, String> headers,
        String body,
        String client,
        String scope,
        String resource,
        String person,
        String token) {
    @Override
    public String toString() {
        return "CallWanted[" + method + ", " + client + "]";
    }
}
