package dev.admit.core.authorize;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.PersonalApproval;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.IssuerRules;
import dev.admit.core.registry.Minting;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Scope;
import java.net.URI;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Requested ∩ approved ∩ the person's own: every combination of the three, and what falls out where. */
class EffectiveRightsTest {
    private static final Instant NOW = Instant.parse("2026-06-01T12:00:00Z");

    /**
     * @param ask GIVEN, WAITING and so on, or none, @param approver of the scope, @param byRole whether it takes a role
     */
    @ParameterizedTest(name = "ask {0}, approver {1}, by role {2}, has role {3}, person said yes {4}: {5}")
    @CsvSource({
        "GIVEN,     ADMINISTRATOR, false, false, false, given",
        "GIVEN,     ADMINISTRATOR, true,  true,  false, given",
        "GIVEN,     ADMINISTRATOR, true,  false, false, notTheirs",
        "GIVEN,     ADMINISTRATOR, true,  false, true,  notTheirs",
        "GIVEN,     PERSON,        false, false, false, given",
        "WAITING,   PERSON,        false, false, false, toApprove",
        "WAITING,   PERSON,        false, false, true,  given",
        "WAITING,   PERSON,        true,  false, true,  notTheirs",
        "WAITING,   PERSON,        true,  true,  true,  given",
        "WAITING,   ADMINISTRATOR, false, false, false, forAdministrator",
        "WAITING,   ADMINISTRATOR, false, false, true,  forAdministrator",
        "DECLINED,  PERSON,        false, false, true,  forAdministrator",
        "WITHDRAWN, PERSON,        false, false, true,  forAdministrator",
        "none,      PERSON,        false, false, true,  forAdministrator"
    })
    void eachOfTheThreeCanTakeItAway(
            String ask, Scope.Approver approver, boolean byRole, boolean hasRole, boolean saidYes, String where) {
        Scope scope = new Scope(
                "sc",
                "iss",
                "api",
                "berths.book",
                Scope.Effect.CHANGES,
                Scope.Reach.OWN,
                Scope.Holders.PEOPLE,
                "words",
                Optional.empty(),
                approver,
                byRole,
                Scope.Life.IN_USE,
                Optional.empty(),
                false,
                true,
                Optional.empty(),
                1);
        EffectiveRights rights = EffectiveRights.of(
                List.of("berths.book"),
                issuer(scope),
                client(ask),
                person(hasRole),
                saidYes ? List.of(new PersonalApproval("iss", "pe", "cl", "berths.book", NOW)) : List.of(),
                NOW);
        List<String> found = new ArrayList<>();
        if (!rights.given().isEmpty()) found.add("given");
        if (!rights.toApprove().isEmpty()) found.add("toApprove");
        if (!rights.forAdministrator().isEmpty()) found.add("forAdministrator");
        if (!rights.notTheirs().isEmpty()) found.add("notTheirs");
        assertThat(found).containsExactly(where);
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource({"DRAFT, false", "IN_USE, true"})
    void aScopeThatIsNotInUseIsOfNoUse(Scope.Life life, boolean given) {
        Scope scope = new Scope(
                "sc",
                "iss",
                "api",
                "berths.book",
                Scope.Effect.CHANGES,
                Scope.Reach.OWN,
                Scope.Holders.PEOPLE,
                "words",
                Optional.empty(),
                Scope.Approver.PERSON,
                false,
                life,
                Optional.empty(),
                false,
                true,
                Optional.empty(),
                1);
        assertThat(EffectiveRights.of(
                                List.of("berths.book"), issuer(scope), client("GIVEN"), person(false), List.of(), NOW)
                        .given()
                        .isEmpty())
                .isEqualTo(!given);
    }

    private static IssuerInForce issuer(Scope scope) {
        Issuer issuer = new Issuer(
                "iss", "harbour", "Harbour", "", URI.create("https://h.example/harbour"), IssuerRules.USUAL, 0, 1, NOW);
        Api api = new Api("api", "iss", "berths", "Berths", "urn:berths", Optional.empty(), Minting.USUAL, 1, NOW);
        Role role = new Role("role_pilot", "iss", "api", "pilot", "Pilot", List.of("berths.book"), false, 1);
        return new IssuerInForce(
                issuer,
                issuer.url().toString(),
                null,
                Map.of("api", api),
                Map.of("urn:berths", api),
                Map.of(scope.name(), scope),
                Map.of(),
                Map.of(),
                Map.of(role.id(), role),
                List.of(),
                api,
                api,
                List.of());
    }

    private static KnownClient client(String ask) {
        Client client = new Client(
                "cl",
                "iss",
                "tablet",
                ClientKind.NATIVE,
                Client.Texts.titled("Tablet"),
                Client.Proof.by(ClientAuthMethod.NONE),
                Client.Addresses.NONE,
                Optional.empty(),
                List.of("openid"),
                Client.People.USUAL,
                true,
                1,
                NOW);
        List<Approval> approvals = ask.equals("none")
                ? List.of()
                : List.of(new Approval(
                        "ap",
                        "iss",
                        "cl",
                        "sc",
                        "berths.book",
                        Approval.Status.valueOf(ask),
                        NOW,
                        "x",
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        "",
                        false,
                        false,
                        1));
        return new KnownClient(client, List.of(), approvals);
    }

    private static Person person(boolean hasRole) {
        return new Person(
                "pe",
                "iss",
                "p@h.example",
                true,
                Map.of(),
                hasRole ? List.of("role_pilot") : List.of(),
                Optional.empty(),
                true,
                1,
                NOW,
                NOW);
    }
}
