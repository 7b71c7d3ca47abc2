package dev.admit.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.admit.cli.SavedServers.Credential;
import dev.admit.cli.SavedServers.Server;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SavedServersTest {
    @TempDir
    Path folder;

    private static Server server(String secret) {
        return new Server(
                "http://127.0.0.1:9470/admin",
                "http://127.0.0.1:9471",
                null,
                new Credential("http://127.0.0.1:9470/admit/token", "cl_1", secret, "client_secret_basic"),
                Map.of());
    }

    @Test
    void whatIsSavedIsReadAndIsForItsOwnerAlone() throws Exception {
        SavedServers saved = new SavedServers(folder.resolve("home"));
        assertThat(saved.read().servers()).isEmpty();
        saved.change(contents -> contents.with("one", server("s1"), true));
        saved.change(contents -> contents.with(
                "two",
                server("s2")
                        .withIssuer("harbour")
                        .withClient("harbour/buoy", server("s3").operator()),
                false));
        assertThat(saved.read().current()).isEqualTo("one");
        assertThat(saved.named("two").orElseThrow().issuer()).isEqualTo("harbour");
        assertThat(saved.named("two")
                        .orElseThrow()
                        .clients()
                        .get("harbour/buoy")
                        .clientSecret())
                .isEqualTo("s3");
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(folder.resolve("home/servers.json"))))
                .isEqualTo("rw-------");
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(folder.resolve("home"))))
                .isEqualTo("rwx------");
        saved.change(contents -> contents.without("one"));
        assertThat(saved.read().current()).as("the current one is gone").isNull();
        assertThat(Files.readString(folder.resolve("home/servers.json"))).doesNotContain("s1");
    }

    @Test
    void aFileThatCannotBeReadIsNamedAndLeftAlone() throws Exception {
        Files.writeString(folder.resolve("servers.json"), "{nonsense");
        SavedServers saved = new SavedServers(folder);
        assertThatThrownBy(() -> saved.change(contents -> contents.without("x")))
                .isInstanceOf(Failure.class)
                .hasMessageContaining("servers.json");
        assertThat(Files.readString(folder.resolve("servers.json"))).isEqualTo("{nonsense");
    }

    @Test
    void aCredentialPrintsNoSecret() {
        assertThat(server("very-secret").toString()).doesNotContain("very-secret");
    }
}
