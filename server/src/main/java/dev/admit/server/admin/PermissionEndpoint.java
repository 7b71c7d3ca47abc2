package dev.admit.server.admin;

import dev.admit.contract.PageView;
import dev.admit.contract.PermissionView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** Who may use which endpoint of the admin API. */
@RestController
class PermissionEndpoint {
    private final Permissions permissions;

    PermissionEndpoint(Permissions permissions) {
        this.permissions = permissions;
    }

    @Permitted(value = AdminRole.AUDITOR, of = Permission.Of.ANY, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping("/admin/permissions")
    PageView<PermissionView> list() {
        return new PageView<>(permissions.all(), null);
    }
}
