package dev.admit.server.console;

import dev.admit.contract.ClientWanted;
import dev.admit.core.access.AdminApi;
import dev.admit.core.authorize.IdentityScopes;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.Ids;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.server.OwnClients;
import dev.admit.server.PublicOrigin;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/**
 * The console as a client of an issuer: registered by Admit itself when a person first signs in to it there, and known
 * by a sealed id. It has exactly the console's address, and nobody can change it. It is public, because what comes of
 * it is redeemed in this very process. An administrator who switches it off keeps people of that issuer out of the
 * console; that stays as it is.
 */
@Component
class ConsoleClients {
    static final String NAME = ClientRegistration.OWN_NAME;
    private final Clients clients;
    private final ClientRegistration registration;
    private final OwnClients own;
    private final PublicOrigin origin;

    ConsoleClients(Clients clients, ClientRegistration registration, OwnClients own, PublicOrigin origin) {
        this.clients = clients;
        this.registration = registration;
        this.own = own;
        this.origin = origin;
    }

    String redirectUri() {
        return origin + ConsoleAddresses.SIGNED_IN;
    }

    /** Finds it, or makes it. One that is not as Admit makes it is never fixed: another takes its place. */
    synchronized Client of(Issuer issuer) {
        Optional<Client> kept = own.consoleOf(issuer.id()).flatMap(id -> clients.named(issuer.id(), id));
        if (kept.filter(this::isAsMade).isPresent()) return kept.get();
        return made(issuer);
    }

    /** Its approval among it: nobody can take that back, so it is missing only where a start was cut off in between. */
    private boolean isAsMade(Client it) {
        return it.people().openidGranted()
                && it.addresses().redirects().equals(List.of(redirectUri()))
                && it.addresses().origins().isEmpty()
                && it.openidScopes().equals(List.of(IdentityScopes.OPENID, AdminApi.RUN));
    }

    private Client made(Issuer issuer) {
        clients.named(issuer.id(), NAME).ifPresent(other -> putAside(issuer));
        Change<ClientRegistration.Registered> registered = registration.register(issuer, wanted(), Actor.ADMIT);
        if (!(registered instanceof Change.Made<ClientRegistration.Registered> made))
            throw new IllegalStateException("the console could not be registered: " + registered);
        own.keepConsole(issuer.id(), made.value().client().id());
        registration.grantOpenid(issuer, NAME, true, Actor.ADMIT);
        return clients.named(issuer.id(), NAME).orElseThrow();
    }

    /**
     * A client of that name that is not this one: of an older version, or changed behind Admit's back. It runs Admit no
     * more.
     */
    private void putAside(Issuer issuer) {
        String name = "admit-old-console-"
                + Ids.random("")
                        .toLowerCase(java.util.Locale.ROOT)
                        .replaceAll("[^a-z0-9]", "")
                        .substring(0, 8);
        registration.grantOpenid(issuer, NAME, false, Actor.ADMIT);
        registration.switchTo(issuer, NAME, false, Expected.ANY, Actor.ADMIT);
        registration.change(issuer, NAME, named(name), Expected.ANY, Actor.ADMIT);
    }

    private ClientWanted wanted() {
        return new ClientWanted(
                NAME,
                "Admit's console",
                "Runs Admit in a browser, for people who may",
                "browser",
                null,
                List.of("Admit itself"),
                null,
                null,
                List.of(redirectUri()),
                null,
                List.of("authorization_code", "refresh_token"),
                List.of(IdentityScopes.OPENID, AdminApi.RUN),
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                List.of());
    }

    private static ClientWanted named(String name) {
        return new ClientWanted(
                name, null, null, null, null, null, null, null, null, null, null, null, null, null, null, null, null,
                null, null, null);
    }
}
