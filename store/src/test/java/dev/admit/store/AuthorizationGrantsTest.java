package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.access.AdminRole;
import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.IssuedCode;
import dev.admit.core.authorization.RefreshToken;
import dev.admit.core.person.Person;
import dev.admit.core.registry.SecretHash;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What works only once, works only once; and what belongs together goes together. */
class AuthorizationGrantsTest {
    private static final Instant NOW = Instant.parse("2026-06-01T12:00:00Z");

    @TempDir
    Path folder;

    private Harbour harbour;
    private SqliteAuthorizationGrants grants;
    private String client;

    @BeforeEach
    void fill() {
        harbour = new Harbour(folder, new SettableClock("2026-06-01T12:00:00Z"));
        harbour.readScope();
        client = harbour.client("desk", "tides.read").client().id();
        new SqlitePeople(harbour.database)
                .insert(new Person(
                        "pe_1",
                        harbour.issuer.id(),
                        "a@b.example",
                        true,
                        Map.of("name", "Ä \"quoted\" 🦀"),
                        List.of(),
                        Optional.of(AdminRole.AUDITOR),
                        true,
                        1,
                        NOW,
                        NOW));
        grants = new SqliteAuthorizationGrants(harbour.database);
        grants.insert(grant("fam_1", Optional.of("ses_1")));
    }

    @AfterEach
    void close() {
        harbour.close();
    }

    private AuthorizationGrant grant(String id, Optional<String> session) {
        return new AuthorizationGrant(
                id,
                harbour.issuer.id(),
                client,
                "pe_1",
                session,
                List.of("openid", "tides.read"),
                List.of("urn:tides"),
                Optional.of("n"),
                NOW,
                List.of("pwd"),
                NOW,
                NOW.plusSeconds(100),
                Optional.empty());
    }

    private RefreshToken refresh(String text, Instant issued) {
        return new RefreshToken(SecretHash.of(text), "fam_1", client, issued, NOW.plusSeconds(50), Optional.empty());
    }

    private static long winners(Callable<Boolean> claim) throws Exception {
        try (ExecutorService all = Executors.newFixedThreadPool(16)) {
            List<Callable<Boolean>> claims = new ArrayList<>();
            for (int i = 0; i < 16; i++) claims.add(claim);
            long won = 0;
            for (Future<Boolean> one : all.invokeAll(claims)) if (one.get()) won++;
            return won;
        }
    }

    @Test
    void ofManyWhoClaimAtOnceOneWins() throws Exception {
        grants.insert(new IssuedCode(
                SecretHash.of("code"),
                "fam_1",
                client,
                "http://127.0.0.1/back",
                "c",
                NOW.plusSeconds(60),
                Optional.empty()));
        grants.insert(refresh("token", NOW));
        assertThat(winners(() -> grants.claimCode(SecretHash.of("code"), NOW))).isEqualTo(1);
        assertThat(winners(() -> grants.claimRefreshToken(SecretHash.of("token"), NOW)))
                .isEqualTo(1);
        SqliteCredentials credentials = new SqliteCredentials(harbour.database);
        credentials.putSeed("pe_1", Optional.of(new byte[] {1}));
        credentials.putRecoveryCodes("pe_1", List.of(SecretHash.of("recovery")));
        assertThat(winners(() -> credentials.takeStep("pe_1", 7))).isEqualTo(1);
        assertThat(credentials.takeStep("pe_1", 6))
                .as("an older code after a newer one")
                .isFalse();
        assertThat(winners(() -> credentials.takeRecoveryCode("pe_1", SecretHash.of("recovery"))))
                .isEqualTo(1);
    }

    @Test
    void whatWasSupersededWasNotUsed() {
        grants.insert(refresh("first", NOW));
        grants.claimRefreshToken(SecretHash.of("first"), NOW);
        grants.insert(refresh("second", NOW));
        assertThat(grants.isSuccessorUsed("fam_1", NOW.plusMillis(1))).isFalse();
        assertThat(grants.supersede("fam_1")).isEqualTo(1);
        assertThat(grants.supersede("fam_1")).as("none is left").isZero();
        assertThat(grants.refreshToken(SecretHash.of("second")).orElseThrow().usedAt())
                .as("as if long ago, so that no grace covers it")
                .hasValue(Instant.EPOCH);
        grants.insert(refresh("third", NOW.plusMillis(2)));
        grants.claimRefreshToken(SecretHash.of("third"), NOW.plusMillis(3));
        assertThat(grants.isSuccessorUsed("fam_1", NOW.plusMillis(1))).isTrue();
    }

    @Test
    void aGrantIsReadAsItWasWrittenEndsAndGoesWithItsPerson() {
        assertThat(grants.find("fam_1")).hasValue(grant("fam_1", Optional.of("ses_1")));
        assertThat(grants.find("fam_1").orElseThrow().isOverAt(NOW.plusSeconds(100)))
                .isTrue();
        grants.insert(grant("fam_2", Optional.empty()));
        grants.endOfPerson("pe_1", Optional.of("another client"), NOW);
        assertThat(grants.ofPerson("pe_1", NOW)).hasSize(2);
        grants.endOfPerson("pe_1", Optional.empty(), NOW);
        assertThat(grants.ofPerson("pe_1", NOW)).isEmpty();
        grants.insert(refresh("token", NOW));
        SqlitePeople people = new SqlitePeople(harbour.database);
        assertThat(people.find("pe_1").orElseThrow().name()).isEqualTo("Ä \"quoted\" 🦀");
        people.delete("pe_1");
        assertThat(grants.find("fam_1")).isEmpty();
        assertThat(grants.refreshToken(SecretHash.of("token"))).isEmpty();
    }
}
