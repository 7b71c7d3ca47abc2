package dev.admit.server;

import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Optional;
import picocli.CommandLine.Option;

/** The options of a service, for every command that starts one. */
public final class StartOptions {
    @Option(names = "--port", paramLabel = "PORT", description = "Port of the authority: issuers, token endpoint, admin API. Default: ${DEFAULT-VALUE}.")
    int port = Settings.PORT;

    @Option(names = "--gateway-port", paramLabel = "PORT", description = "Port of the gateway. Default: ${DEFAULT-VALUE}.")
    int gatewayPort = Settings.GATEWAY_PORT;

    @Option(names = "--host", paramLabel = "ADDRESS", description = "Address that both listen on. Default: ${DEFAULT-VALUE}.")
    String host = "127.0.0.1";

    @Option(names = "--public-url", paramLabel = "URL",
            description = "What issuer URLs begin with: https, or loopback. Kept with the data from the first start on.")
    URI publicUrl;

    @Option(names = "--largest-body", paramLabel = "BYTES", description = "A larger request body is refused at the gateway. Default: ${DEFAULT-VALUE}.")
    long largestBody = 10 * 1024 * 1024;

    @Option(names = "--upstream-silence", paramLabel = "SECONDS", description = "How long an upstream may say nothing. Default: ${DEFAULT-VALUE}.")
    int upstreamSilence = 30;

    /** @throws Settings.Senseless when one of them makes no sense */
    public Settings settings(Path data) {
        if (upstreamSilence < 1) throw new Settings.Senseless("--upstream-silence is %d. Give at least 1 second.".formatted(upstreamSilence));
        return new Settings(host, port, gatewayPort, Optional.ofNullable(publicUrl), data,
                Optional.ofNullable(System.getenv("ADMIT_MASTER_KEY")).filter(key -> !key.isBlank()), largestBody,
                Duration.ofSeconds(upstreamSilence), false);
    }
}
