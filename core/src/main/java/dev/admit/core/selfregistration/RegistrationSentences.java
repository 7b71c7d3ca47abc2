package dev.admit.core.selfregistration;

import dev.admit.core.registry.Scope;
import java.util.ArrayList;
import java.util.List;

/** Whether clients may register themselves, in sentences: the same ones on every surface. */
public final class RegistrationSentences {
    private RegistrationSentences() {}

    public static List<String> of(RegistrationPolicy it) {
        List<String> said = new ArrayList<>();
        said.add(
                switch (it.mode()) {
                    case CLOSED -> "No client registers itself; people with an admin role and setup files do.";
                    case WITH_TOKEN -> "A client that has an initial access token registers itself.";
                    case OPEN -> "Every client may register itself.";
                });
        if (it.mode() == RegistrationPolicy.Mode.CLOSED) return said;
        if (it.mode() == RegistrationPolicy.Mode.OPEN) said.addAll(of(it.limits()));
        said.add(
                it.approver() == Scope.Approver.PERSON
                        ? "People approve for themselves what its scopes let them."
                        : "An administrator approves all that it requests.");
        said.add("Registering grants nothing, no approval given ahead fits such a client, and a person who is asked "
                + "reads that nobody has checked it.");
        said.add("A client that registered itself and was never used is removed after 30 days.");
        return List.copyOf(said);
    }

    /** What clients may be within some limits. */
    public static List<String> of(Limits it) {
        List<String> said = new ArrayList<>();
        said.add(
                it.kinds().isEmpty()
                        ? "It may be of any kind that acts for people."
                        : "It may be of kind "
                                + String.join(
                                        " or ",
                                        it.kinds().stream()
                                                .map(Object::toString)
                                                .toList()) + ".");
        if (!it.grantTypes().isEmpty()) said.add("It may use %s.".formatted(String.join(" and ", it.grantTypes())));
        said.add(
                it.scopes().isEmpty()
                        ? "It may request scopes that people approve for themselves."
                        : "It may request %s.".formatted(String.join(" and ", it.scopes())));
        if (!it.redirectDomains().isEmpty())
            said.add("Its redirect URIs lie in %s.".formatted(String.join(" or ", it.redirectDomains())));
        return said;
    }
}
