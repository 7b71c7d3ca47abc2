package dev.admit.core.authorize;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.PersonalApproval;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.IssuerSettings;
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
     * @param ask GRANTED, WAITING and so on, or none
     * @param approver of the scope
     * @param byRole whether it takes a role
     */
    @ParameterizedTest(name = "ask {0}, approver {1}, by role {2}, has role {3}, person said yes {4}: {5}")
    @CsvSource({
        "GRANTED,     ADMINISTRATOR, false, false, false, granted",
        "GRANTED,     ADMINISTRATOR, true,  true,  false, granted",
        "GRANTED,     ADMINISTRATOR, true,  false, false, notTheirs",
        "GRANTED,     ADMINISTRATOR, true,  false, true,  notTheirs",
        "GRANTED,     PERSON,        false, false, false, granted",
        "WAITING,   PERSON,        false, false, false, toApprove",
        "WAITING,   PERSON,        false, false, true,  granted",
        "WAITING,   PERSON,        true,  false, true,  notTheirs",
        "WAITING,   PERSON,        true,  true,  true,  granted",
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
                Scope.For.PEOPLE,
                "words",
                approver,
                byRole,
                Scope.Status.IN_USE,
                Optional.empty(),
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
        if (!rights.granted().isEmpty()) found.add("granted");
        if (!rights.toApprove().isEmpty()) found.add("toApprove");
        if (!rights.forAdministrator().isEmpty()) found.add("forAdministrator");
        if (!rights.notTheirs().isEmpty()) found.add("notTheirs");
        assertThat(found).containsExactly(where);
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource({"DRAFT, false", "IN_USE, true"})
    void aScopeThatIsNotInUseIsOfNoUse(Scope.Status status, boolean granted) {
        Scope scope = new Scope(
                "sc",
                "iss",
                "api",
                "berths.book",
                Scope.Effect.CHANGES,
                Scope.Reach.OWN,
                Scope.For.PEOPLE,
                "words",
                Scope.Approver.PERSON,
                false,
                status,
                Optional.empty(),
                true,
                Optional.empty(),
                1);
        assertThat(EffectiveRights.of(
                                List.of("berths.book"), issuer(scope), client("GRANTED"), person(false), List.of(), NOW)
                        .granted()
                        .isEmpty())
                .isEqualTo(!granted);
    }

    private static CompiledIssuer issuer(Scope scope) {
        Issuer issuer = new Issuer(
                "iss",
                "harbour",
                "Harbour",
                "",
                URI.create("https://h.example/harbour"),
                IssuerSettings.USUAL,
                0,
                1,
                NOW);
        Api api = new Api("api", "iss", "berths", "Berths", "urn:berths", Optional.empty(), Minting.USUAL, 1, NOW);
        Role role = new Role("role_pilot", "iss", "api", "pilot", "Pilot", List.of("berths.book"), false, 1);
        return new CompiledIssuer(
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
                List.of(),
                false,
                false);
    }

    private static KnownClient client(String ask) {
        Client client = new Client(
                "cl",
                "iss",
                "tablet",
                ClientKind.NATIVE,
                Client.Texts.named("Tablet"),
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
