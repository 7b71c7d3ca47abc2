package dev.admit.server.admin;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** Finds what an address of the admin API names, by name or by id; answers 404 when it is not there. */
@Component
class Lookup {
    private final Issuers issuers;
    private final Apis apis;
    private final Clients clients;
    private final Approvals approvals;

    Lookup(Issuers issuers, Apis apis, Clients clients, Approvals approvals) {
        this.issuers = issuers;
        this.apis = apis;
        this.clients = clients;
        this.approvals = approvals;
    }

    Issuer issuer(String named) {
        return issuers.named(named).orElseThrow(absent("issuer", named));
    }

    Api api(Issuer issuer, String named) {
        return apis.named(issuer.id(), named).orElseThrow(absent("API", named));
    }

    /**
     * An API that is to be changed.
     *
     * @throws Answers.Refused for the admin API itself, which stays as it is
     */
    Api apiToChange(Issuer issuer, String named) {
        Api api = api(issuer, named);
        Lockout.refuseForAdminApi(issuer, api.name());
        return api;
    }

    Client client(Issuer issuer, @Nullable String named) {
        return clients.named(issuer.id(), named == null ? "" : named)
                .orElseThrow(absent("client", named == null ? "" : named));
    }

    Approval approval(Issuer issuer, String id) {
        return approvals.find(issuer.id(), id).orElseThrow(absent("approval", id));
    }

    static Supplier<Answers.Refused> absent(String kind, String named) {
        return () -> new Answers.Refused(Answers.absent(kind, named));
    }
}
