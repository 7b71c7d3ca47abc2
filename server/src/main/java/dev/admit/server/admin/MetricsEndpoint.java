package dev.admit.server.admin;

import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.server.operations.Metrics;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** Numbers for Prometheus, behind the same door as the rest: they name issuers, and tell what is refused. */
@RestController
class MetricsEndpoint {
    private final Metrics metrics;

    MetricsEndpoint(Metrics metrics) {
        this.metrics = metrics;
    }

    @Permitted(value = AdminRole.AUDITOR, of = Permission.Of.SERVICE)
    @GetMapping(path = "/admin/metrics", produces = "text/plain; version=0.0.4; charset=utf-8")
    String metrics() {
        return metrics.text();
    }
}
