package dev.admit.contract;

import java.util.Map;
import org.jspecify.annotations.Nullable;

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
        @Nullable String method,
        @Nullable String host,
        @Nullable String path,
        @Nullable Map<String, String> headers,
        @Nullable String body,
        @Nullable String client,
        @Nullable String scope,
        @Nullable String resource,
        @Nullable String person,
        @Nullable String token) {
    @Override
    public String toString() {
        return "CallWanted[" + method + ", " + client + "]";
    }
}
