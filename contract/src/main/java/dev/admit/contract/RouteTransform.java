package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;

/**
 * What is done to a request and its response. Texts of headers are Mustache templates over decision, route, method,
 * path.NAME and claims.NAME.
 *
 * @param path what the path becomes, with the names of the route's own
 * @param proof reused, each-request or none: the signed proof that the upstream gets
 * @param credential the name of what the gateway itself presents to the upstream
 * @param refusals what a refusal says: by a reason, a status, or any
 */
public record RouteTransform(
        String path,
        @JsonProperty("set_on_request") Map<String, String> setOnRequest,
        @JsonProperty("renamed_on_request") Map<String, String> renamedOnRequest,
        @JsonProperty("removed_on_request") List<String> removedOnRequest,
        @JsonProperty("set_on_response") Map<String, String> setOnResponse,
        @JsonProperty("removed_on_response") List<String> removedOnResponse,
        String credential,
        Map<String, OwnText> refusals,
        String proof) {

    /**
     * In place of problem details. @param body a Mustache template over status, reason, sentence, expected, received,
     * fix, decision, needed and route
     */
    public record OwnText(@JsonProperty("content_type") String contentType, String body) {}
}
