package dev.admit.core.access;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.util.Optional;
import java.util.Set;

/** Holds a caller of the admin API against what an endpoint declares. */
public final class AdminRights {
    private static final String CHECK = "admin-role";

    private AdminRights() {}

    /**
     * What the caller may do at most.
     *
     * @param issuer the name of the issuer whose person or client it is
     * @param role the person's admin role, or what a client's scopes amount to; empty for none
     */
    public record Caller(String issuer, Optional<AdminRole> role) {
        /** A client of the service's own issuer, by the scopes of its token. */
        public static Caller client(Set<String> scopes) {
            Optional<AdminRole> role = scopes.contains(AdminApi.CHANGE)
                    ? Optional.of(AdminRole.ADMINISTRATOR)
                    : scopes.contains(AdminApi.READ) ? Optional.of(AdminRole.AUDITOR) : Optional.empty();
            return new Caller(AdminApi.ISSUER, role);
        }

        boolean isOfService() {
            return issuer.equals(AdminApi.ISSUER);
        }
    }

    /**
     * By the caller's admin role alone; what an owner may is {@code OwnerRights}.
     *
     * @param addressed the name of the issuer in the address; empty where the address names none
     */
    public static CheckResult check(Caller caller, Permission permission, Optional<String> addressed) {
        if (caller.role().isEmpty()) {
            return refused(
                    Reason.ADMIN_ROLE_TOO_LOW,
                    "a person with an admin role",
                    "a person without one",
                    Fix.of("Have the person given an admin role.").by("an administrator"));
        }
        if (!reaches(caller, permission, addressed)) {
            return refused(
                    Reason.OTHER_ISSUER,
                    "what belongs to the issuer " + caller.issuer(),
                    addressed.map(it -> "the issuer " + it).orElse("the service"),
                    Fix.of("Have a person do it who runs the service.")
                            .by("a person or client of the service's own issuer"));
        }
        AdminRole role = caller.role().get();
        if (role.isAtLeast(permission.least()))
            return CheckResult.passed(CHECK, "an admin role of at least " + permission.least(), role.toString());
        return refused(
                Reason.ADMIN_ROLE_TOO_LOW,
                "an admin role of at least " + permission.least(),
                role.toString(),
                Fix.of("Ask an %s.".formatted(permission.least())).by("an " + permission.least()));
    }

    private static boolean reaches(Caller caller, Permission permission, Optional<String> addressed) {
        if (caller.isOfService()) return true;
        return switch (permission.of()) {
            case ANY -> true;
            case ISSUER -> addressed.equals(Optional.of(caller.issuer()));
            case SERVICE -> false;
        };
    }

    private static CheckResult refused(Reason reason, String expected, String received, Fix fix) {
        return CheckResult.refused(CHECK, reason, expected, received, fix);
    }
}
