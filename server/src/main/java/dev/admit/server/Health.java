package dev.admit.server;

import dev.admit.core.access.AdminApi;
import dev.admit.core.registry.Issuers;
import dev.admit.gateway.Gateway;
import org.springframework.boot.health.contributor.HealthIndicator;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** What must work for the service to take requests. */
@Configuration(proxyBeanMethods = false)
class Health {

    @Bean
    HealthIndicator recordsHealthIndicator(Issuers issuers) {
        return () -> {
            issuers.named(AdminApi.ISSUER);
            return org.springframework.boot.health.contributor.Health.up().build();
        };
    }

    @Bean
    HealthIndicator gatewayHealthIndicator(Gateway gateway) {
        return () -> gateway.port() > 0
                ? org.springframework.boot.health.contributor.Health.up().build()
                : org.springframework.boot.health.contributor.Health.down().build();
    }
}
