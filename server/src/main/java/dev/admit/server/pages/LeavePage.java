package dev.admit.server.pages;

import dev.admit.core.registry.Client;
import java.io.IOException;
import java.net.URI;
import java.util.Map;
import java.util.Optional;

/**
 * Says where a client that registered itself wants a person to be sent, and lets the person go there by themselves (RFC
 * 9700 §4.11.2).
 */
final class LeavePage {
    private LeavePage() {}

    /** @param address that the client registered, with what it is answered */
    record To(Client client, String address) {
        /** What a person can judge: the host, or that it stays on the machine. */
        String where() {
            String authority = URI.create(address).getAuthority();
            return authority == null ? "a program on this device" : authority;
        }
    }

    static void show(Render render, Visit visit, int status, To to, String sentence) throws IOException {
        render.page(
                visit,
                status,
                "leave",
                Map.of("client", to.client(), "where", to.where(), "address", to.address(), "sentence", sentence),
                Optional.empty());
    }
}
