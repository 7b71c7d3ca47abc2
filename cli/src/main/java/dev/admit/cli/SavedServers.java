package dev.admit.cli;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/**
 * The servers this user is signed in to, in one file that only they can read: {@code $ADMIT_HOME/servers.json}, where
 * ADMIT_HOME is {@code ~/.admit} unless set.
 */
public final class SavedServers {
    private static final JsonMapper JSON = JsonMapper.builder()
            .enable(tools.jackson.databind.SerializationFeature.INDENT_OUTPUT)
            .build();

    /** In place of a method of authentication: the secret is a person's refresh token. */
    static final String PERSON = "person";

    private final Path home;
    private final Path file;

    public SavedServers(Path home) {
        this.home = home;
        this.file = home.resolve("servers.json");
    }

    /** Where the environment wants it. */
    public static SavedServers of(Map<String, String> environment) {
        String home = environment.get("ADMIT_HOME");
        return new SavedServers(
                home == null || home.isBlank() ? Path.of(System.getProperty("user.home"), ".admit") : Path.of(home));
    }

    /** What a client needs to fetch a token. */
    public record Credential(
            @JsonProperty("token_endpoint") String tokenEndpoint,
            @JsonProperty("client_id") String clientId,
            @JsonProperty("client_secret") String clientSecret,
            @JsonProperty("auth_method") String tokenEndpointAuthMethod) {
        @Override
        public String toString() {
            return "Credential[" + clientId + ", hidden]";
        }
    }

    /**
     * @param issuer the one meant when none is named; may be null
     * @param clients {@code issuer/name} → credential, for clients whose secret was kept on purpose
     */
    public record Server(
            @JsonProperty("admin_api") String adminApi,
            String gateway,
            @Nullable String issuer,
            Credential operator,
            Map<String, Credential> clients) {
        public Server {
            clients = clients == null ? Map.of() : clients;
        }

        /**
         * Whether a person signed in, by a refresh token that changes with each use; else a client's credential is
         * kept.
         */
        boolean isPersons() {
            return PERSON.equals(operator.tokenEndpointAuthMethod());
        }

        Server withOperator(Credential other) {
            return new Server(adminApi, gateway, issuer, other, clients);
        }

        Server withIssuer(String name) {
            return new Server(adminApi, gateway, name, operator, clients);
        }

        Server withClient(String issuerAndName, Credential credential) {
            Map<String, Credential> more = new LinkedHashMap<>(clients);
            more.put(issuerAndName, credential);
            return new Server(adminApi, gateway, issuer, operator, more);
        }
    }

    /** @param current the server meant when none is named; may be null */
    public record Contents(@Nullable String current, Map<String, Server> servers) {
        public Contents {
            servers = servers == null ? Map.of() : servers;
        }

        public Contents with(String name, Server server, boolean makeCurrent) {
            Map<String, Server> more = new LinkedHashMap<>(servers);
            more.put(name, server);
            return new Contents(makeCurrent ? name : current, more);
        }

        /** Changes a server where it is still here. */
        public Contents changing(String name, UnaryOperator<Server> how) {
            Map<String, Server> all = new LinkedHashMap<>(servers);
            all.computeIfPresent(name, (same, server) -> how.apply(server));
            return new Contents(current, all);
        }

        public Contents without(String name) {
            Map<String, Server> fewer = new LinkedHashMap<>(servers);
            fewer.remove(name);
            return new Contents(name.equals(current) ? null : current, fewer);
        }
    }

    public Contents read() {
        if (!Files.exists(file)) return new Contents(null, Map.of());
        try {
            return JSON.readValue(Files.readString(file), Contents.class);
        } catch (IOException | JacksonException cause) {
            throw new Failure(
                    Failure.FAULT,
                    "The file %s cannot be read (%s). Fix it, or remove it and sign in again."
                            .formatted(file, cause.getMessage()));
        }
    }

    public Optional<Server> named(String name) {
        return Optional.ofNullable(read().servers().get(name));
    }

    /** Changes the file while no other command does, and writes it whole. */
    @SuppressWarnings("try") // the lock is held, not read
    public Contents change(UnaryOperator<Contents> how) {
        try {
            if (!Files.isDirectory(home)) {
                Files.createDirectories(
                        home, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
            }
            try (FileChannel channel = FileChannel.open(
                            file.resolveSibling("servers.lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
                    var held = channel.lock()) {
                Contents after = how.apply(read());
                Path beside = Files.createTempFile(
                        file.getParent(),
                        ".servers",
                        null,
                        PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
                Files.writeString(beside, JSON.writeValueAsString(after));
                Files.move(beside, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
                return after;
            }
        } catch (IOException cause) {
            throw new UncheckedIOException("The file " + file + " cannot be written", cause);
        }
    }
}
