package dev.admit.server;

import dev.admit.core.audit.TokenEvents;
import dev.admit.core.clientauth.SecretUses;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.key.MasterKey;
import dev.admit.core.limit.Quotas;
import dev.admit.core.plan.Usage;
import dev.admit.gateway.Gateway;
import dev.admit.server.operations.AccessLog;
import dev.admit.store.DataFolder;
import dev.admit.store.Database;
import java.io.IOException;
import java.net.BindException;
import java.net.URI;
import java.time.Duration;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.WebApplicationType;
import org.springframework.boot.availability.AvailabilityChangeEvent;
import org.springframework.boot.availability.ReadinessState;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.boot.web.server.PortInUseException;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.support.GenericApplicationContext;

/** A running service: the authorization server on one port, the gateway on the other. */
public final class AuthorizationServer implements AutoCloseable {
    private final ConfigurableApplicationContext context;

    private AuthorizationServer(ConfigurableApplicationContext context) {
        this.context = context;
    }

    /** A port is in use. The message names it, and the option that changes it. */
    public static final class PortTaken extends RuntimeException {
        PortTaken(int port, String option) {
            super("Port %d is taken by another process. Stop that one, or choose another port with %s."
                    .formatted(port, option));
        }
    }

    /**
     * Starts everything; when it returns, both ports answer.
     *
     * @param also Spring configurations that ride along: a measurement puts its floor beside the real thing
     * @throws PortTaken when one of the ports is in use
     * @throws dev.admit.store.CannotOpen when the data folder cannot be used
     * @throws Settings.Senseless when the settings do not fit the data
     */
    public static AuthorizationServer start(Settings settings, Class<?>... also) {
        FastCrypto.install();
        DataFolder folder = DataFolder.open(settings.data());
        Opened opened;
        try {
            opened = Opened.open(settings, folder);
        } catch (RuntimeException cannotOpen) {
            folder.close();
            throw cannotOpen;
        }
        ConfigurableApplicationContext context;
        try {
            context = spring(opened, also).run();
        } catch (RuntimeException notStarted) {
            opened.close();
            throw causedBy(notStarted, PortInUseException.class) || causedBy(notStarted, BindException.class)
                    ? new PortTaken(settings.port(), "--port")
                    : notStarted;
        }
        startGateway(context, settings);
        return new AuthorizationServer(context);
    }

    private static void startGateway(ConfigurableApplicationContext context, Settings settings) {
        try {
            context.getBean(Gateway.class).start();
        } catch (Exception notStarted) {
            context.close();
            if (causedBy(notStarted, BindException.class))
                throw new PortTaken(settings.gatewayPort(), "--gateway-port");
            throw new IllegalStateException("The gateway does not start: " + notStarted.getMessage(), notStarted);
        }
    }

    private static SpringApplicationBuilder spring(Opened opened, Class<?>... also) {
        Map<String, Object> properties = new HashMap<>();
        properties.put("server.address", opened.settings().host());
        properties.put("server.port", opened.settings().port());
        return new SpringApplicationBuilder(Wiring.class)
                .sources(also)
                .web(WebApplicationType.SERVLET)
                .registerShutdownHook(false) // the command that started it stops it, in its own order
                .properties(properties)
                .initializers(context -> ((GenericApplicationContext) context).registerBean(Opened.class, () -> opened))
                .bannerMode(org.springframework.boot.Banner.Mode.OFF)
                .logStartupInfo(false);
    }

    private static boolean causedBy(Throwable thrown, Class<? extends Throwable> type) {
        for (Throwable at = thrown; at != null; at = at.getCause()) {
            if (type.isInstance(at)) return true;
        }
        return false;
    }

    /** One of the service's parts, for the one who sets up data in the same process. */
    public <T> T part(Class<T> type) {
        return context.getBean(type);
    }

    public URI publicUrl() {
        return part(Opened.class).publicUrl();
    }

    public URI gatewayUrl() {
        return URI.create(part(Gateway.class).url(publicUrl().getHost()));
    }

    /**
     * What to know when the issuers' addresses are not where this process listens; empty when they are, or a proxy may
     * stand between.
     */
    public Optional<String> elsewhere() {
        Settings settings = part(Opened.class).settings();
        boolean direct = settings.scheme().equals(publicUrl().getScheme())
                && "127.0.0.1".equals(publicUrl().getHost());
        if (!direct || publicUrl().getPort() == settings.port()) return Optional.empty();
        return Optional.of(
                ("The issuers in this data folder keep their URLs under %s, but this process listens on port %d. "
                                + "Start it with --port %d to answer there.")
                        .formatted(publicUrl(), settings.port(), publicUrl().getPort()));
    }

    /**
     * Says that no more requests should come and waits as long as that takes, lets those under way end, keeps what
     * waits to be kept, closes the data.
     */
    @Override
    public void close() {
        AvailabilityChangeEvent.publish(context, ReadinessState.REFUSING_TRAFFIC);
        drain(part(Opened.class).settings().drain());
        try {
            part(Gateway.class).close();
        } catch (Exception alreadyGone) {
            org.slf4j.LoggerFactory.getLogger(AuthorizationServer.class)
                    .warn("the gateway did not stop cleanly", alreadyGone);
        }
        BatchedJournal journal = part(BatchedJournal.class);
        TokenEvents events = part(TokenEvents.class);
        SecretUses uses = part(SecretUses.class);
        Quotas quotas = part(Quotas.class);
        Usage usage = part(Usage.class);
        Opened opened = part(Opened.class);
        SpringApplication.exit(context);
        events.flush();
        uses.flush();
        quotas.flush();
        usage.flush();
        journal.flush();
        opened.close();
    }

    private static void drain(Duration length) {
        try {
            Thread.sleep(length);
        } catch (InterruptedException hurried) {
            Thread.currentThread().interrupt();
        }
    }

    /** The data folder, opened before anything else starts. */
    record Opened(
            Settings settings,
            DataFolder folder,
            Database database,
            MasterKey masterKey,
            URI publicUrl,
            Optional<TlsFiles> tls,
            Optional<AccessLog> accessLog) {
        static Opened open(Settings settings, DataFolder folder) {
            Optional<TlsFiles> tls = TlsFiles.of(settings);
            var masterKey = folder.masterKey(settings.masterKey());
            Database database = Database.open(folder.database());
            try {
                return new Opened(
                        settings,
                        folder,
                        database,
                        masterKey,
                        PublicUrl.settle(settings, database),
                        tls,
                        accessLog(settings));
            } catch (RuntimeException senseless) {
                database.close();
                throw senseless;
            }
        }

        private static Optional<AccessLog> accessLog(Settings settings) {
            if (settings.accessLog().isEmpty()) return Optional.empty();
            try {
                return Optional.of(new AccessLog(settings.accessLog().get()));
            } catch (IOException cannot) {
                throw new Settings.Senseless(
                        "--access-log %s cannot be written: %s. Name a file in a folder that is there."
                                .formatted(settings.accessLog().get(), cannot.getMessage()));
            }
        }

        void close() {
            accessLog.ifPresent(log -> {
                try {
                    log.close();
                } catch (IOException fault) {
                    org.slf4j.LoggerFactory.getLogger(AuthorizationServer.class)
                            .error("the access log was not closed", fault);
                }
            });
            database.close();
            folder.close();
        }
    }
}
