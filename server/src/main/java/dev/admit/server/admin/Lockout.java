package dev.admit.server.admin;

import dev.admit.core.access.AdminApi;
import dev.admit.core.change.Actor;
import dev.admit.core.registry.Issuer;

/** Refuses what would leave nobody able to run the service: the admin API itself, and the caller's own way to it. */
final class Lockout {
    private Lockout() {}

    /** @throws Answers.Refused when the API is the one that protects the admin API */
    static void refuseForAdminApi(Issuer issuer, String apiName) {
        if (issuer.name().equals(AdminApi.ISSUER) && apiName.equals(AdminApi.NAME)) {
            throw refused(
                    "the API %s of the issuer %s, which protects the admin API".formatted(apiName, issuer.name()),
                    "It stays as it is.");
        }
    }

    /** @throws Answers.Refused when the issuer is the one of the operators */
    static void refuseForOperatorIssuer(Issuer issuer) {
        if (issuer.name().equals(AdminApi.ISSUER)) {
            throw refused("the issuer %s, whose clients run this service".formatted(issuer.name()), "It stays.");
        }
    }

    /** @throws Answers.Refused when the client is the one that makes the call */
    static void refuseForOneself(String clientId, Actor actor) {
        if (clientId.equals(actor.id())) {
            throw refused(
                    "%s, which makes this very call and would lock itself out".formatted(actor.name()),
                    "Do it as another operator.");
        }
    }

    private static Answers.Refused refused(String received, String fix) {
        return new Answers.Refused(Answers.problem(
                409,
                "lockout",
                "Refused by a rule",
                "a change after which the service can still be run",
                received,
                fix,
                java.util.List.of()));
    }
}
