package dev.admit.core.token;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Which tokens a revocation means: those it names, minted before it, and no others. */
class RevocationsTest {
    private static final Instant NOW = Instant.parse("2026-06-01T12:00:00Z");
    private final TokenIds ids = new TokenIds(Clock.fixed(NOW, ZoneOffset.UTC), 0);
    private final TokenId before = ids.next();
    private final TokenId cutOff = ids.next();
    private final TokenId after = ids.next();

    private record Token(
            String issuerId,
            String clientId,
            TokenId id,
            List<String> audiences,
            List<String> scopes,
            String subject,
            String sessionId,
            String grantId)
            implements Revocations.Revocable {}

    private Token ofPerson(TokenId id) {
        return new Token("iss", "cl", id, List.of("urn:tides"), List.of("openid", "tides.read"), "pe", "ses", "fam");
    }

    private Token clientsOwn(TokenId id) {
        return new Token("iss", "cl", id, List.of("urn:tides"), List.of("tides.read"), "cl", "", "");
    }

    private static Revocation.Meant meant(String what) {
        return switch (what) {
            case "person" -> new Revocation.Meant.OfPerson("pe", Optional.empty(), Optional.empty());
            case "person at client" -> new Revocation.Meant.OfPerson("pe", Optional.of("cl"), Optional.empty());
            case "person at another client" ->
                new Revocation.Meant.OfPerson("pe", Optional.of("other"), Optional.empty());
            case "person and scope" -> new Revocation.Meant.OfPerson("pe", Optional.empty(), Optional.of("tides.read"));
            case "person and another scope" ->
                new Revocation.Meant.OfPerson("pe", Optional.empty(), Optional.of("berths.book"));
            case "another person" -> new Revocation.Meant.OfPerson("other", Optional.empty(), Optional.empty());
            case "people with scope" -> new Revocation.Meant.OfPeople("iss", "tides.read");
            case "people elsewhere" -> new Revocation.Meant.OfPeople("other", "tides.read");
            case "session" -> new Revocation.Meant.OfSession("ses");
            case "another session" -> new Revocation.Meant.OfSession("other");
            case "grant" -> new Revocation.Meant.OfGrant("fam");
            case "client" -> new Revocation.Meant.OfClient("cl", Optional.empty());
            default -> throw new IllegalArgumentException(what);
        };
    }

    @ParameterizedTest(name = "{0}: of a person {1}, the client's own {2}")
    @CsvSource({
        "person, true, false",
        "person at client, true, false",
        "person at another client, false, false",
        "person and scope, true, false",
        "person and another scope, false, false",
        "another person, false, false",
        "people with scope, true, false",
        "people elsewhere, false, false",
        "session, true, false",
        "another session, false, false",
        "grant, true, false",
        "client, true, true"
    })
    void whatIsMeantIsEndedAndNothingElse(String what, boolean endsPersons, boolean endsClients) {
        Revocations revocations = new Revocations();
        revocations.add(new Revocation(meant(what), cutOff.order(), NOW.plusSeconds(100)));
        assertThat(revocations.ending(ofPerson(before)).isPresent()).isEqualTo(endsPersons);
        assertThat(revocations.ending(clientsOwn(before)).isPresent()).isEqualTo(endsClients);
        assertThat(revocations.ending(ofPerson(after))).as("minted since").isEmpty();
        revocations.drop(NOW.plusSeconds(101));
        assertThat(revocations.ending(ofPerson(before)))
                .as("nothing so old is active any more")
                .isEmpty();
    }

    @Test
    void aLaterCutOffStandsBesideAnEarlierOne() {
        Revocations revocations = new Revocations();
        revocations.add(new Revocation(meant("session"), ids.next().order(), NOW.plusSeconds(100)));
        revocations.add(new Revocation(meant("session"), cutOff.order(), NOW.plusSeconds(10)));
        assertThat(revocations.ending(ofPerson(after)))
                .as("the later one counts")
                .isPresent();
    }
}
