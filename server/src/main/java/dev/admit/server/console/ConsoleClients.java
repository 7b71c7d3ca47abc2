package dev.admit.server.console;

import dev.admit.core.authorize.IdentityScopes;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.signin.RunningRights;
import dev.admit.server.PublicOrigin;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/**
 * The console as a client of an issuer: registered by Admit itself when somebody first signs in to it there. It is public, because what
 * comes of it is redeemed in this very process. An administrator who switches it off, or takes its approval back, keeps people of that
 * issuer out of the console; that stays as it is.
 */
@Component
class ConsoleClients {
    static final String NAME = "admit-console";
    private final Clients clients;
    private final ClientRegistration registration;
    private final PublicOrigin origin;

    ConsoleClients(Clients clients, ClientRegistration registration, PublicOrigin origin) {
        this.clients = clients;
        this.registration = registration;
        this.origin = origin;
    }

    String redirectUri() {
        return origin + ConsoleAddresses.SIGNED_IN;
    }

    /** Finds it, or makes it; one that came with a setup file from another place gets this place's address as well. */
    Client of(Issuer issuer) {
        Optional<Client> there = clients.named(issuer.id(), NAME);
        if (there.isEmpty()) return made(issuer);
        List<String> redirects = there.get().addresses().redirects();
        if (redirects.contains(redirectUri())) return there.get();
        List<String> more = new ArrayList<>(redirects);
        more.add(redirectUri());
        registration.change(issuer, NAME, wanted(null, null, more, null, null), Expected.ANY, Actor.ADMIT);
        registration.giveIdentity(issuer, NAME, true, Actor.ADMIT);
        return clients.named(issuer.id(), NAME).orElseThrow();
    }

    private Client made(Issuer issuer) {
        Change<ClientRegistration.Registered> registered = registration.register(issuer, wanted("browser", "Admit's console", List.of(redirectUri()), List.of("authorization_code", "refresh_token"),
                List.of(IdentityScopes.OPENID, RunningRights.SCOPE)), null, Actor.ADMIT);
        // Of two first sign-ins at once one registers it; the other finds it.
        if (registered instanceof Change.Made<ClientRegistration.Registered>) registration.giveIdentity(issuer, NAME, true, Actor.ADMIT);
        return clients.named(issuer.id(), NAME).orElseThrow(() -> new IllegalStateException("the console could not be registered: " + registered));
    }

    private static ClientRegistration.Wanted wanted(String kind, String title, List<String> redirects, List<String> grantTypes, List<String> identity) {
        return new ClientRegistration.Wanted(NAME, title, kind == null ? null : "Runs Admit in a browser, for people who may", kind, null, kind == null ? null : "Admit itself", null, null, null, redirects, null, grantTypes, identity, null, null, null, null, null,
                null, List.of());
    }
}
