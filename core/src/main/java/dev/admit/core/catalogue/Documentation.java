package dev.admit.core.catalogue;

import java.util.List;
import java.util.Optional;

/**
 * What an API's OpenAPI document says, as its callers read it: paths at the gateway, and what each operation really
 * needs.
 *
 * @param description in Markdown, as every description here
 * @param server the gateway's URL
 * @param groups operations by their first tag, in the order of the document
 */
public record Documentation(String title, String version, String description, String server, List<Group> groups) {

    /** @param name of the tag; empty for operations without one */
    public record Group(String name, String description, List<Operation> operations) {}

    /**
     * @param method in upper case
     * @param path at the gateway, with names in braces
     * @param server what stands before the path: the gateway's URL
     * @param alternatives scopes that are enough together, each list for itself; none for an open operation
     * @param subscription whether the client must be subscribed to a plan that covers it
     * @param responses by status
     */
    public record Operation(
            String method,
            String path,
            String server,
            String summary,
            String description,
            boolean deprecated,
            List<List<String>> alternatives,
            boolean subscription,
            List<Parameter> parameters,
            Optional<Content> body,
            boolean bodyRequired,
            List<Response> responses) {
        /** {@code GET /tides/gauges/{gauge}}. */
        public String label() {
            return method + " " + path;
        }

        public boolean open() {
            return alternatives.isEmpty();
        }
    }

    /** @param in path, query, header or cookie */
    public record Parameter(
            String name, String in, boolean required, String type, String description, String example) {}

    /**
     * @param members of an object, or of the objects of a list, those within named by a path such as berth.name
     * @param example as text
     */
    public record Content(String mediaType, List<Member> members, String example) {}

    public record Member(String name, boolean required, String type, String description) {}

    /** @param status such as 200 or 4XX or default */
    public record Response(String status, String description, Optional<Content> content) {}

    public int count() {
        return groups.stream().mapToInt(it -> it.operations().size()).sum();
    }

    /** @param label method and path, as the list of operations has it */
    public Optional<Operation> operation(String label) {
        return groups.stream()
                .flatMap(it -> it.operations().stream())
                .filter(it -> it.label().equals(label))
                .findFirst();
    }
}
