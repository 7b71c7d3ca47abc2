package dev.admit.core.openapi;

import java.util.List;
import java.util.Map;

/**
 * What an OpenAPI document says that matters to a gateway, and the document itself.
 *
 * @param title of its info
 * @param version of its info; empty where it says none
 * @param servers base URLs, some of them relative
 * @param operations in the order of the document
 * @param scopes name → what the document says of it, empty where it says nothing
 * @param whole the document as JSON, to be kept
 */
public record OpenApiDocument(
        String title,
        String version,
        List<String> servers,
        List<Operation> operations,
        Map<String, String> scopes,
        String whole) {

    /**
     * @param method in upper case
     * @param path as the document has it, such as {@code /gauges/{gaugeId}}
     * @param summary empty where it says none
     */
    public record Operation(String method, String path, String summary, Security security) {
        /** {@code GET /gauges/{gaugeId}}. */
        public String label() {
            return method + " " + path;
        }
    }

    /** What an operation asks of its caller. */
    public sealed interface Security {
        /** Nothing, and the document says so. */
        record Open() implements Security {}

        /** The document does not say. */
        record Unsaid() implements Security {}

        /**
         * A token.
         *
         * @param alternatives scopes that are enough together, each list for itself; an empty list: any token
         */
        record Token(List<List<String>> alternatives) implements Security {}
    }

    @Override
    public String toString() {
        return "OpenApiDocument[" + title + " " + version + "]";
    }
}
