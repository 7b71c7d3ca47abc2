package dev.admit.server.admin;

import dev.admit.contract.ConnectingView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.registry.Issuer;
import dev.admit.server.programs.ConnectClient;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** For a client's developer: the addresses and values that its kind needs, and programs that work with them. */
@RestController
class ConnectingEndpoint {
    private final ConnectClient connect;
    private final Lookup lookup;

    ConnectingEndpoint(ConnectClient connect, Lookup lookup) {
        this.connect = connect;
        this.lookup = lookup;
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.CLIENT)
    @GetMapping("/admin/issuers/{issuer}/clients/{client}/connecting")
    ConnectingView connecting(@PathVariable String issuer, @PathVariable String client) {
        Issuer owner = lookup.issuer(issuer);
        return connect.of(owner, lookup.client(owner, client));
    }
}
