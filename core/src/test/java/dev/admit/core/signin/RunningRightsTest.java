package dev.admit.core.signin;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.person.Person;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RunningRightsTest {
    @ParameterizedTest(name = "{0} {1} {2}: {3}")
    @CsvSource(nullValues = "none", textBlock = """
            AUDITOR,       GET,    /admin/issuers/harbour/clients,                          passed
            AUDITOR,       GET,    /admin,                                                  passed
            AUDITOR,       GET,    /admin/decisions/dec_1,                                  passed
            AUDITOR,       POST,   /admin/issuers/harbour/clients,                          not-their-role
            AUDITOR,       GET,    /admin/issuers/gullwing/clients,                         not-their-issuer
            AUDITOR,       GET,    /admin/issuers/harbourmaster/clients,                    not-their-issuer
            OPERATOR,      POST,   /admin/issuers/harbour/clients,                          passed
            OPERATOR,      DELETE, /admin/issuers/harbour/keys/key_1,                       passed
            OPERATOR,      POST,   /admin/issuers/harbour/approvals,                        passed
            OPERATOR,      POST,   /admin/issuers/harbour/approvals/ap_1/give,              not-their-role
            OPERATOR,      POST,   /admin/issuers/harbour/approvals/ap_1/withdraw,          not-their-role
            OPERATOR,      POST,   /admin/issuers/harbour/clients/desk/identity/give,       not-their-role
            OPERATOR,      POST,   /admin/issuers/harbour/people,                           not-their-role
            OPERATOR,      PATCH,  /admin/issuers/harbour/people/pe_1,                      not-their-role
            OPERATOR,      GET,    /admin/issuers/harbour/people/pe_1,                      passed
            OPERATOR,      POST,   /admin/setup/load,                                       not-their-issuer
            OPERATOR,      GET,    /admin/service/check,                                    not-their-issuer
            ADMINISTRATOR, POST,   /admin/issuers/harbour/approvals/ap_1/give,              passed
            ADMINISTRATOR, PATCH,  /admin/issuers/harbour,                                  passed
            ADMINISTRATOR, DELETE, /admin/issuers/harbour,                                  not-their-issuer
            ADMINISTRATOR, POST,   /admin/issuers,                                          not-their-issuer
            ADMINISTRATOR, POST,   /admin/service/backup,                                   not-their-issuer
            none,          GET,    /admin/issuers/harbour/clients,                          not-their-role""")
    void eachRankAtItsOwnIssuer(Person.Running rank, String method, String path, String expected) {
        assertThat(verdict(RunningRights.check(Optional.of(person(rank, true)), "harbour", false, method, path))).isEqualTo(expected);
    }

    @ParameterizedTest(name = "{0} {1} {2}: {3}")
    @CsvSource(textBlock = """
            ADMINISTRATOR, POST,   /admin/issuers,                           passed
            ADMINISTRATOR, POST,   /admin/service/backup,                    passed
            ADMINISTRATOR, DELETE, /admin/issuers/gullwing,                  passed
            OPERATOR,      POST,   /admin/issuers/gullwing/approvals/a/give, not-their-role
            AUDITOR,       GET,    /admin/issuers/gullwing/clients,          passed
            AUDITOR,       POST,   /admin/issuers,                           not-their-role""")
    void peopleOfTheServicesOwnIssuerRunAll(Person.Running rank, String method, String path, String expected) {
        assertThat(verdict(RunningRights.check(Optional.of(person(rank, true)), "admit", true, method, path))).isEqualTo(expected);
    }

    @ParameterizedTest
    @CsvSource({"/admin", "/admin/issuers/harbour/clients"})
    void nobodyAndWhoIsSwitchedOffMayNothing(String path) {
        assertThat(verdict(RunningRights.check(Optional.empty(), "harbour", false, "GET", path))).isEqualTo("not-their-role");
        assertThat(verdict(RunningRights.check(Optional.of(person(Person.Running.ADMINISTRATOR, false)), "harbour", false, "GET", path))).isEqualTo("not-their-role");
    }

    private static String verdict(CheckResult result) {
        return result instanceof CheckResult.Refused refused ? refused.refusal().reason().toString() : "passed";
    }

    private static Person person(Person.Running rank, boolean enabled) {
        return new Person("pe", "iss", "p@h.example", true, Map.of(), List.of(), Optional.ofNullable(rank), enabled, 1, Instant.EPOCH, Instant.EPOCH);
    }
}
