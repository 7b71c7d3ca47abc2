package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * What is done to a request and its response. Texts of headers are Mustache templates over decision, route, method,
 * path.NAME and claims.NAME.
 *
 * @param path what the path becomes, with the names of the route's own
 * @param credential the upstream credential that the gateway presents
 * @param refusals what a refusal says: by a reason, a status, or any
 * @param proof the signed proof that the upstream gets: reused (as usual), each-request or none
 */
public record RouteTransform(
        @Nullable String path,
        @JsonProperty("set_on_request") @Nullable Map<String, String> setOnRequest,
        @JsonProperty("renamed_on_request") @Nullable Map<String, String> renamedOnRequest,
        @JsonProperty("removed_on_request") @Nullable List<String> removedOnRequest,
        @JsonProperty("set_on_response") @Nullable Map<String, String> setOnResponse,
        @JsonProperty("removed_on_response") @Nullable List<String> removedOnResponse,
        @Nullable String credential,
        @Nullable Map<String, OwnText> refusals,
        @Nullable String proof) {

    /**
     * In place of problem details.
     *
     * @param body a Mustache template over status, reason, sentence, expected, received, fix, decision, needed and
     *     route
     */
    public record OwnText(
            @JsonProperty("content_type") @Nullable String contentType,
            @Nullable String body) {}
}
