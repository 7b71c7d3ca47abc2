package dev.admit.demo;

import com.fasterxml.jackson.annotation.JsonProperty;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.setup.Setup;
import dev.admit.store.DataFolder;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/** What a running demo tells scripts: where it answers and with which credentials. Its members stay as they are. */
record ReadyFile(
        @JsonProperty("admin_api") String adminApi,
        String gateway,
        String console,
        Map<String, String> issuers,
        Operator operator,
        Map<String, OneClient> clients,
        List<OnePerson> people,
        List<OneRoute> routes,
        Outside outside) {

    record Operator(
            @JsonProperty("client_id") String clientId,
            @JsonProperty("client_secret") String clientSecret) {}

    /**
     * @param clientSecret null for a client without one, as
     * @param privateKey (PEM)
     */
    record OneClient(
            @JsonProperty("client_id") String clientId,
            @JsonProperty("client_secret") @Nullable String clientSecret,
            @JsonProperty("private_key") @Nullable String privateKey,
            @JsonProperty("token_endpoint_auth_method") String tokenEndpointAuthMethod,
            String kind,
            String resource,
            List<String> scopes,
            boolean granted) {

        static OneClient of(Harbour.DemoClient it) {
            boolean key = it.client().tokenEndpointAuthMethod() == ClientAuthMethod.PRIVATE_KEY_JWT;
            return new OneClient(
                    it.client().id(),
                    key || it.credential().isEmpty() ? null : it.credential(),
                    key ? it.credential() : null,
                    it.client().tokenEndpointAuthMethod().toString(),
                    it.client().kind().toString(),
                    it.resource(),
                    it.scopes(),
                    it.granted());
        }
    }

    /** @param totpSeed in base32; null without a second factor */
    record OnePerson(
            String issuer,
            String login,
            String password,
            @JsonProperty("totp_seed") @Nullable String totpSeed,
            List<String> roles) {
        @Override
        public String toString() {
            return "OnePerson[" + login + "]";
        }
    }

    /** An issuer elsewhere, and a client of its. */
    record Outside(
            String issuer,
            @JsonProperty("client_id") String clientId,
            @JsonProperty("client_secret") String clientSecret) {}

    record OneRoute(String method, String path, @Nullable String api, List<String> scopes) {
        static OneRoute of(Setup.RoutePart it) {
            String route = Harbour.label(it);
            int space = route.lastIndexOf(' ');
            return new OneRoute(
                    space < 0 ? "" : route.substring(0, space),
                    route.substring(space + 1),
                    it.api(),
                    it.scopes() == null ? List.of() : it.scopes());
        }
    }

    /** Secrets are in it, so only its owner can read it; the one who waits for it finds it whole or not at all. */
    void write(Path file) throws IOException {
        DataFolder.writePrivately(
                file, new JsonMapper().writerWithDefaultPrettyPrinter().writeValueAsString(this) + "\n");
    }

    @Override
    public String toString() {
        return "ReadyFile[" + adminApi + "]";
    }
}
