package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/**
 * What a document promises and no route lets through, and the reverse.
 *
 * @param operations how many the document has
 * @param agrees whether all lists are empty
 * @param notReached operations that no route of the API answers
 * @param otherwise operations whose route wants something else than the document says
 * @param notPromised routes of the API that answer no operation
 * @param wider routes that let through more than the operations they answer: any method, or any path beneath
 */
public record OpenApiChecked(
        String api,
        int operations,
        boolean agrees,
        @JsonProperty("not_reached") List<String> notReached,
        List<Otherwise> otherwise,
        @JsonProperty("not_promised") List<String> notPromised,
        List<String> wider) {

    /**
     * @param operation such as GET /gauges/{gauge}
     * @param route that answers it
     * @param promised what the document says that a caller must bring
     * @param wanted what the route wants
     */
    public record Otherwise(String operation, String route, String promised, String wanted) {}
}
