package dev.admit.bench;

import dev.admit.contract.ClientWanted;
import dev.admit.contract.PersonWanted;
import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.authorization.IssuedCode;
import dev.admit.core.authorization.RefreshToken;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Transactions;
import dev.admit.core.person.Person;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.signin.PersonRegistration;
import dev.admit.server.AuthorizationServer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A person, a client that acts for them, and many codes and refresh tokens to be used once each: {@code code-N} and
 * {@code refresh-N}.
 */
final class BenchPeople {
    static final int EACH = 100_000;
    static final String VERIFIER = "v".repeat(43);
    static final String REDIRECT = "http://127.0.0.1/back";

    private BenchPeople() {}

    static void fill(AuthorizationServer server, Issuer issuer) {
        Person person = made(server.part(PersonRegistration.class)
                .add(
                        issuer,
                        new PersonWanted("bench@saltmarsh.example", Map.of("name", "Bench"), null, null),
                        Optional.of(new PersonRegistration.ChosenPassword("four plain words here")),
                        Actor.ADMIT));
        made(server.part(ClientRegistration.class)
                .register(
                        issuer,
                        new ClientWanted(
                                "tablet",
                                null,
                                null,
                                "native",
                                null,
                                null,
                                null,
                                null,
                                List.of(REDIRECT),
                                null,
                                null,
                                List.of("openid"),
                                null,
                                null,
                                null,
                                null,
                                null,
                                null,
                                null,
                                null),
                        Actor.ADMIT));
        made(server.part(ClientRegistration.class).grantOpenid(issuer, "tablet", true, Actor.ADMIT));
        String client = server.part(Clients.class)
                .named(issuer.id(), "tablet")
                .orElseThrow()
                .id();
        System.out.println(client);
        AuthorizationGrants grants = server.part(AuthorizationGrants.class);
        Instant now = Instant.now();
        Instant end = now.plus(Duration.ofDays(1));
        for (int from = 0; from < 2 * EACH; from += 5_000) {
            int first = from;
            server.part(Transactions.class).inOne(() -> {
                for (int i = first; i < first + 5_000; i++) {
                    AuthorizationGrant grant = new AuthorizationGrant(
                            "fam_bench_" + i,
                            issuer.id(),
                            client,
                            person.id(),
                            Optional.empty(),
                            List.of("openid"),
                            List.of(issuer.url().toString()),
                            Optional.empty(),
                            now,
                            List.of("pwd"),
                            now,
                            end,
                            Optional.empty());
                    grants.insert(grant);
                    if (i < EACH)
                        grants.insert(new RefreshToken(
                                SecretHash.of("refresh-" + i), grant.id(), client, now, end, Optional.empty()));
                    else
                        grants.insert(new IssuedCode(
                                SecretHash.of("code-" + (i - EACH)),
                                grant.id(),
                                client,
                                REDIRECT,
                                challenge(),
                                end,
                                Optional.empty()));
                }
                return null;
            });
        }
    }

    private static String challenge() {
        try {
            return Base64.getUrlEncoder()
                    .withoutPadding()
                    .encodeToString(
                            MessageDigest.getInstance("SHA-256").digest(VERIFIER.getBytes(StandardCharsets.US_ASCII)));
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }

    private static <T> T made(Change<T> change) {
        if (change instanceof Change.Made<T> made) return made.value();
        throw new IllegalStateException("filling came to " + change);
    }
}
