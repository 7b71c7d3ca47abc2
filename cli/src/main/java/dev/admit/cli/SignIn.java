package dev.admit.cli;

import dev.admit.contract.ServiceView;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

@Command(
        name = "sign-in",
        description = "Sign in to a server, as its operator or as a person who runs an issuer.",
        footer = {
            "",
            "Example: admit sign-in --credential admit-data/operator-credential.json",
            "Example: admit sign-in --at http://127.0.0.1:9470/harbour --client-id cl_… --device"
        })
final class SignIn implements Runnable {
    @Mixin
    Common common;

    @Option(
            names = "--credential",
            paramLabel = "FILE",
            description = "The file that the first start handed over. It is removed once it was taken.")
    Path credential;

    @Option(
            names = "--admin-api",
            paramLabel = "URL",
            description = "Instead: the address of the admin API, with --client-id; it asks for the secret.")
    String adminApi;

    @Option(names = "--client-id", paramLabel = "ID", description = "The operator's client id.")
    String clientId;

    @Option(
            names = "--name",
            paramLabel = "NAME",
            description = "What to call this server. Default: its host and port.")
    String name;

    @Option(
            names = "--at",
            paramLabel = "URL",
            description = "Instead, as a person: the issuer's URL, with --client-id of the client that stands for this "
                    + "command line.")
    String issuerUrl;

    @Option(names = "--device", description = "With --at: sign in in a browser elsewhere, by a short code.")
    boolean device;

    @Override
    public void run() {
        if (issuerUrl != null) {
            new PersonSignIn(common, issuerUrl.strip().replaceAll("/+$", ""), clientId, name).run(device);
            return;
        }
        SavedServers.Credential operator = credential != null ? fromFile() : fromOptions();
        String called = name != null ? name : URI.create(adminApi).getAuthority();
        JsonNode token = common.http().fetchToken(operator, null, null);
        var answer = common.http()
                .send(
                        "GET",
                        adminApi,
                        Map.of(
                                "Authorization",
                                "Bearer " + token.path("access_token").asString()),
                        null);
        if (answer.status() != 200) throw Http.failure(answer);
        ServiceView service = Http.JSON.readValue(answer.body(), ServiceView.class);
        common.saved()
                .change(contents -> contents.with(
                        called, new SavedServers.Server(adminApi, service.gateway(), null, operator, Map.of()), true));
        if (credential != null) remove();
        common.say(service, () -> common.out()
                .done("Signed in to %s as its operator.".formatted(called), "admit issuer add NAME"));
    }

    private SavedServers.Credential fromFile() {
        try {
            JsonNode json = Http.JSON.readTree(Files.readString(credential));
            adminApi = json.path("admin_api").asString();
            return new SavedServers.Credential(
                    json.path("token_endpoint").asString(),
                    json.path("client_id").asString(),
                    json.path("client_secret").asString(),
                    "client_secret_basic");
        } catch (IOException | JacksonException unreadable) {
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "%s is no credential file that can be read. Give the file that the first start named."
                            .formatted(credential));
        }
    }

    private SavedServers.Credential fromOptions() {
        if (adminApi == null || clientId == null) {
            throw new Failure(Failure.WRONG_USAGE, "Say --credential FILE, or --admin-api URL with --client-id ID.");
        }
        adminApi = adminApi.strip().replaceAll("/+$", "");
        String base = adminApi.replaceAll("/admin$", "");
        return new SavedServers.Credential(
                base + "/admit/token",
                clientId.strip(),
                common.readSecret("Secret of " + clientId),
                "client_secret_basic");
    }

    /** OneTimeSecret over once: the saved servers have it now. */
    private void remove() {
        try {
            Files.delete(credential);
        } catch (IOException cause) {
            throw new Failure(
                    Failure.FAULT,
                    "Signed in, but %s cannot be removed (%s). Remove it yourself: it holds a secret."
                            .formatted(credential, cause.getMessage()));
        }
    }
}
