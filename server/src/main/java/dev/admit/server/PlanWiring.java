package dev.admit.server;

import dev.admit.core.audit.Audit;
import dev.admit.core.catalogue.Publications;
import dev.admit.core.limit.Quotas;
import dev.admit.core.mail.WriteMail;
import dev.admit.core.owner.Owners;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscriptions;
import dev.admit.core.plan.SubscriptionsInForce;
import dev.admit.core.plan.Usage;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuers;
import dev.admit.core.subscription.PlanRegistration;
import dev.admit.core.subscription.ReadUsage;
import dev.admit.core.subscription.Subscribing;
import dev.admit.core.subscription.TellOfUse;
import dev.admit.core.subscription.TellSubscribers;
import dev.admit.store.Database;
import dev.admit.store.SqlitePlans;
import dev.admit.store.SqliteSubscriptions;
import dev.admit.store.SqliteUsage;
import java.time.Clock;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** Puts together what plans and subscriptions need. */
@Configuration(proxyBeanMethods = false)
class PlanWiring {

    @Bean
    Plans plans(Database database) {
        return new SqlitePlans(database);
    }

    @Bean
    Subscriptions subscriptions(Database database) {
        return new SqliteSubscriptions(database);
    }

    @Bean
    SubscriptionsInForce subscriptionsInForce(Plans plans, Subscriptions subscriptions) {
        return new SubscriptionsInForce(plans, subscriptions);
    }

    @Bean
    Usage usage(Database database) {
        return new Usage(new SqliteUsage(database));
    }

    @Bean
    TellSubscribers tellSubscribers(
            Owners owners, Apis apis, Clients clients, Plans plans, WriteMail mail, Clock clock) {
        return new TellSubscribers(owners, apis, clients, plans, mail, clock);
    }

    @Bean
    ReadUsage readUsage(Plans plans, Quotas quotas, Usage usage, Clock clock) {
        return new ReadUsage(plans, quotas, usage, clock);
    }

    @Bean
    TellOfUse tellOfUse(
            Usage usage,
            Plans plans,
            Subscriptions subscriptions,
            Issuers issuers,
            Clients clients,
            TellSubscribers tell,
            Clock clock) {
        return new TellOfUse(usage, plans, subscriptions, issuers, clients, tell, clock);
    }

    @Bean
    PlanRegistration planRegistration(
            Database database,
            Plans plans,
            Subscriptions subscriptions,
            Apis apis,
            Clients clients,
            Owners owners,
            Audit audit,
            SubscriptionsInForce inForce,
            Clock clock) {
        return new PlanRegistration(database, plans, subscriptions, apis, clients, owners, audit, inForce, clock);
    }

    @Bean
    Subscribing subscribing(
            Database database,
            Plans plans,
            Subscriptions subscriptions,
            Publications publications,
            Clients clients,
            Owners owners,
            Audit audit,
            SubscriptionsInForce inForce,
            Clock clock) {
        return new Subscribing(database, plans, subscriptions, publications, clients, owners, audit, inForce, clock);
    }
}
