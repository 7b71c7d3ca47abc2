package dev.admit.core.openapi;

import dev.admit.core.change.FieldFault;
import java.util.List;

/** Reads an OpenAPI document, 3.0 or 3.1, in JSON or YAML. Whoever wrote it is not trusted. */
public interface ReadOpenApi {
    sealed interface Reading {
        record Good(OpenApiDocument document) implements Reading {}

        /** @param faults with pointers into the document */
        record Malformed(List<FieldFault> faults) implements Reading {}
    }

    /**
     * @param text bounded in size and depth; a reference that leads out of the document is a fault, and nothing is
     *     fetched
     */
    Reading read(String text);
}
