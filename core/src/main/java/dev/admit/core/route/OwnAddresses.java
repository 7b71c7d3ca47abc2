package dev.admit.core.route;

import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.registry.Issuer;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/** Which hosts and paths at the gateway are an issuer's to route. */
final class OwnAddresses {
    /** How the gateway is called where nobody gave it a name: addresses, and this machine. */
    private static final Pattern SHARED_HOSTS = Pattern.compile("localhost|\\d{1,3}(\\.\\d{1,3}){3}|\\[.*]");

    private OwnAddresses() {}

    /**
     * What a route takes that is not its issuer's to take: a host that others have, or a path that is the authorization
     * server's.
     *
     * @param all issuers of this service
     */
    static Optional<FieldFault> fault(Issuer issuer, PathPattern pattern, List<Issuer> all) {
        String host = pattern.host();
        if (SHARED_HOSTS.matcher(host).matches()
                || host.equalsIgnoreCase(issuer.url().getHost())) {
            return Optional.of(new FieldFault(
                    "/path",
                    "a host of this issuer",
                    host + ", which all issuers share",
                    "Name a host of the issuer's own, or none."));
        }
        Optional<Issuer> owner = host.isEmpty()
                ? Optional.empty()
                : all.stream()
                        .filter(it -> !it.id().equals(issuer.id())
                                && !it.settings().domains().isEmpty()
                                && it.settings().owns(host))
                        .findFirst();
        if (owner.isPresent())
            return Optional.of(new FieldFault(
                    "/path",
                    "a host of this issuer",
                    host + ", in a domain of another issuer",
                    "Name a host of the issuer's own."));
        String first = pattern.parts().isEmpty()
                        || !(pattern.parts().getFirst() instanceof PathPattern.Part.Literal(String text))
                ? ""
                : text;
        if (ReservedPaths.isOwn(first) || all.stream().anyMatch(it -> it.name().equals(first))) {
            return Optional.of(new FieldFault(
                    "/path",
                    "a path whose first segment is neither console, admin nor an issuer's name",
                    Fields.quoted("/" + first),
                    "Choose another: there browsers hold the sign-in pages' cookies."));
        }
        return Optional.empty();
    }
}
