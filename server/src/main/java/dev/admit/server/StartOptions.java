package dev.admit.server;

import dev.admit.core.change.Fields;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** The options of a service, for every command that starts one. */
public final class StartOptions {
    @Option(
            names = "--port",
            paramLabel = "PORT",
            description =
                    "Port of the authorization server: issuers, token endpoint, admin API. Default: ${DEFAULT-VALUE}.")
    int port = Settings.PORT;

    @Option(
            names = "--gateway-port",
            paramLabel = "PORT",
            description = "Port of the gateway. Default: ${DEFAULT-VALUE}.")
    int gatewayPort = Settings.GATEWAY_PORT;

    @Option(
            names = "--host",
            paramLabel = "ADDRESS",
            description = "Address that both listen on. Default: ${DEFAULT-VALUE}.")
    String host = "127.0.0.1";

    @Option(
            names = "--public-url",
            paramLabel = "URL",
            description =
                    "What issuer URLs begin with: https, or loopback. Stored with the data from the first start on.")
    @Nullable
    URI publicUrl;

    @Option(
            names = "--largest-body",
            paramLabel = "BYTES",
            description = "A larger request body is refused at the gateway. Default: ${DEFAULT-VALUE}.")
    long largestBody = 10 * 1024 * 1024;

    @Option(
            names = "--upstream-idle",
            paramLabel = "SECONDS",
            description = "How long an upstream may say nothing. Default: ${DEFAULT-VALUE}.")
    int upstreamIdle = 30;

    @Option(
            names = "--config",
            paramLabel = "FILE",
            description = "A file with these options, one name = value a line. Options come before ADMIT_… variables, "
                    + "those before the file.")
    @Nullable
    Path config;

    @Option(
            names = "--tls-certificate",
            paramLabel = "FILE",
            description = "Certificate chain in PEM, for both ports; read again when it changes.")
    @Nullable
    Path tlsCertificate;

    @Option(names = "--tls-key", paramLabel = "FILE", description = "Its private key in PEM, without a passphrase.")
    @Nullable
    Path tlsKey;

    @Option(
            names = "--trusted-proxy",
            paramLabel = "ADDRESS",
            split = ",",
            description = "A proxy whose X-Forwarded-For is believed: an address or a network; may be said again.")
    List<String> trustedProxies = List.of();

    @Option(
            names = "--keep-decisions",
            paramLabel = "TIME",
            description = "How long decisions are kept. Default: ${DEFAULT-VALUE}.")
    String keepDecisions = "30d";

    @Option(
            names = "--keep-audit",
            paramLabel = "TIME",
            description = "How long the audit is kept. Default: ${DEFAULT-VALUE}.")
    String keepAudit = "400d";

    @Option(
            names = "--smtp-host",
            paramLabel = "NAME",
            description = "The mail server. Without one, mail stays in the outbox.")
    @Nullable
    String smtpHost;

    @Option(names = "--smtp-port", paramLabel = "PORT", description = "Its port. Default: ${DEFAULT-VALUE}.")
    int smtpPort = 587;

    @Option(
            names = "--smtp-tls",
            paramLabel = "WORD",
            description = "required, which is usual, or none: on this machine only.")
    String smtpTls = "required";

    @Option(
            names = "--smtp-user",
            paramLabel = "NAME",
            description = "Login at the mail server; its password comes from ADMIT_SMTP_PASSWORD.")
    @Nullable
    String smtpUser;

    @Option(names = "--mail-from", paramLabel = "ADDRESS", description = "Whom mail comes from.")
    @Nullable
    String mailFrom;

    @Option(
            names = "--access-log",
            paramLabel = "FILE",
            description = "A line of JSON for each request goes there; begun anew when it was moved away.")
    @Nullable
    Path accessLog;

    @Option(
            names = "--drain",
            paramLabel = "TIME",
            description = "When asked to stop: how long readiness says no while requests are still taken. Default: "
                    + "${DEFAULT-VALUE}.")
    String drain = "0s";

    private static Duration length(String text) {
        return new Fields()
                .duration("/", text, Duration.ZERO, Duration.ofDays(36_600))
                .orElse(Duration.ZERO);
    }

    /** @throws Settings.Senseless when one of them makes no sense */
    public Settings settings(Path data) {
        if (upstreamIdle < 1)
            throw new Settings.Senseless("--upstream-idle is %d. Give at least 1 second.".formatted(upstreamIdle));
        return new Settings(
                host,
                port,
                gatewayPort,
                Optional.ofNullable(publicUrl),
                data,
                Optional.ofNullable(System.getenv("ADMIT_MASTER_KEY")).filter(key -> !key.isBlank()),
                largestBody,
                Duration.ofSeconds(upstreamIdle),
                false,
                Optional.ofNullable(tlsCertificate),
                Optional.ofNullable(tlsKey),
                trustedProxies,
                length(keepDecisions),
                length(keepAudit),
                smtp(),
                Optional.ofNullable(accessLog),
                drain.strip().equals("0s") ? Duration.ZERO : length(drain));
    }

    private Optional<SmtpSettings> smtp() {
        if (smtpHost == null || smtpHost.isBlank()) return Optional.empty();
        Optional<String> password =
                Optional.ofNullable(System.getenv("ADMIT_SMTP_PASSWORD")).filter(it -> !it.isBlank());
        return Optional.of(new SmtpSettings(
                smtpHost.strip(),
                smtpPort,
                smtpTls,
                Optional.ofNullable(smtpUser),
                password,
                mailFrom == null ? "" : mailFrom));
    }
}
