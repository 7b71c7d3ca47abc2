package dev.admit.contract;

import java.util.List;
import java.util.Map;

/**
 * What loading a setup file came to, or would come to.
 *
 * @param made secrets of new clients for which the file names none, shown once
 */
public record SetupView(
        String issuer, boolean loaded, List<Step> steps, Map<String, SecretOnce> made, List<String> notes) {

    /**
     * @param verb added, changed or removed
     * @param members that differ
     */
    public record Step(String verb, String what, List<Difference> members) {}

    public record Difference(String member, String before, String after) {}
}
