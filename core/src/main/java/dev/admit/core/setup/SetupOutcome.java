package dev.admit.core.setup;

import dev.admit.core.change.FieldFault;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Client;
import java.util.List;

/** What loading a setup file came to. */
public sealed interface SetupOutcome {

    /**
     * @param steps what was changed, or would be
     * @param made secrets of clients that are new and for which the file names none, to be shown once
     */
    record Fits(List<Step> steps, List<Made> made, List<String> notes) implements SetupOutcome {}

    /**
     * Nothing was changed.
     *
     * @param faults each with a pointer into the file
     */
    record Refused(List<FieldFault> faults) implements SetupOutcome {}

    /**
     * @param what such as {@code client tide-buoy-07}
     * @param verb added, changed or removed
     * @param members that differ
     */
    record Step(String verb, String what, List<Difference> members) {}

    /**
     * @param before empty where there was nothing
     * @param after empty where there is nothing
     */
    record Difference(String member, String before, String after) {}

    record Made(Client client, ClientRegistration.IssuedSecret secret) {
        @Override
        public String toString() {
            return "Made[" + client.name() + ", hidden]";
        }
    }
}
