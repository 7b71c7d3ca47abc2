package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;

/**
 * What is done to a request and its answer. Texts of headers are Mustache templates over decision, route, method,
 * path.NAME and claims.NAME.
 *
 * @param path what the path becomes, with the names of the route's own
 * @param connect how long it may take until a connection to the upstream stands
 * @param silence how long the upstream may say nothing, such as 10s
 * @param passage reused, each-request or none: the signed proof that the upstream gets
 * @param credential the name of what the gateway itself presents to the upstream
 * @param refusals what a refusal says: by a reason, a status, or any
 * @param whole how long the whole exchange may take
 */
public record RouteShaping(
        String path,
        @JsonProperty("set_on_request") Map<String, String> setOnRequest,
        @JsonProperty("renamed_on_request") Map<String, String> renamedOnRequest,
        @JsonProperty("removed_on_request") List<String> removedOnRequest,
        @JsonProperty("set_on_answer") Map<String, String> setOnAnswer,
        @JsonProperty("removed_on_answer") List<String> removedOnAnswer,
        String connect,
        String silence,
        String whole,
        String credential,
        Map<String, OwnText> refusals,
        String passage) {

    /**
     * In place of problem details. @param body a Mustache template over status, reason, sentence, expected, came, mend,
     * decision, needed and route
     */
    public record OwnText(@JsonProperty("content_type") String contentType, String body) {}
}
