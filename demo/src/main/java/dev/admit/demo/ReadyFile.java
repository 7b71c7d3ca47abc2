package dev.admit.demo;

import com.fasterxml.jackson.annotation.JsonProperty;
import dev.admit.store.DataFolder;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.json.JsonMapper;

/** What a running demo tells scripts: where it answers and with which credentials. Its members stay as they are. */
record ReadyFile(@JsonProperty("admin_api") String adminApi, String gateway, String console, Map<String, String> issuers, Operator operator,
                 Map<String, OneClient> clients, List<Object> people, List<OneRoute> routes) {

    record Operator(@JsonProperty("client_id") String clientId, @JsonProperty("client_secret") String clientSecret) {}

    record OneClient(@JsonProperty("client_id") String clientId, @JsonProperty("client_secret") String clientSecret,
                     @JsonProperty("auth_method") String authMethod, String resource, List<String> scopes) {}

    record OneRoute(String method, String path, String api, List<String> scopes) {}

    /** Secrets are in it, so only its owner can read it; whoever waits for it finds it whole or not at all. */
    void write(Path file) throws IOException {
        DataFolder.writePrivately(file, new JsonMapper().writerWithDefaultPrettyPrinter().writeValueAsString(this) + "\n");
    }

    @Override public String toString() {
        return "ReadyFile[" + adminApi + "]";
    }
}
