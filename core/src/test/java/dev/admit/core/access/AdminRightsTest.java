package dev.admit.core.access;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.access.AdminRights.Caller;
import dev.admit.core.decision.CheckResult;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class AdminRightsTest {

    @ParameterizedTest(name = "{0} of {1}, least {2} of {3}, at {4}: {5}")
    @CsvSource(nullValues = "none", textBlock = """
            AUDITOR,       harbour, AUDITOR,       ISSUER,  harbour, passed
            AUDITOR,       harbour, OPERATOR,      ISSUER,  harbour, admin-role-too-low
            OPERATOR,      harbour, OPERATOR,      ISSUER,  harbour, passed
            OPERATOR,      harbour, ADMINISTRATOR, ISSUER,  harbour, admin-role-too-low
            ADMINISTRATOR, harbour, ADMINISTRATOR, ISSUER,  harbour, passed
            ADMINISTRATOR, harbour, AUDITOR,       ISSUER,  gullwing, other-issuer
            ADMINISTRATOR, harbour, AUDITOR,       ISSUER,  admit,   other-issuer
            ADMINISTRATOR, harbour, AUDITOR,       ISSUER,  none,    other-issuer
            ADMINISTRATOR, harbour, AUDITOR,       SERVICE, none,    other-issuer
            ADMINISTRATOR, harbour, AUDITOR,       SERVICE, harbour, other-issuer
            AUDITOR,       harbour, AUDITOR,       ANY,     none,    passed
            AUDITOR,       harbour, OPERATOR,      ANY,     none,    admin-role-too-low
            AUDITOR,       admit,   AUDITOR,       ISSUER,  harbour, passed
            OPERATOR,      admit,   ADMINISTRATOR, ISSUER,  harbour, admin-role-too-low
            OPERATOR,      admit,   ADMINISTRATOR, SERVICE, none,    admin-role-too-low
            ADMINISTRATOR, admit,   ADMINISTRATOR, SERVICE, none,    passed
            none,          harbour, AUDITOR,       ANY,     none,    admin-role-too-low
            none,          admit,   AUDITOR,       ANY,     none,    admin-role-too-low""")
    void roleAndIssuerTogetherDecide(
            AdminRole role, String issuer, AdminRole least, Permission.Of of, String addressed, String verdict) {
        Permission permission = new Permission(least, of, Permission.OwnerOf.NOTHING);
        assertThat(verdict(AdminRights.check(
                        new Caller(issuer, Optional.ofNullable(role)), permission, Optional.ofNullable(addressed))))
                .isEqualTo(verdict);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(nullValues = "none", textBlock = """
            admin.read,   AUDITOR
            admin.change, ADMINISTRATOR
            tides.read,   none
            admin.reader, none""")
    void aClientIsWhatItsScopesAmountTo(String scope, AdminRole role) {
        assertThat(Caller.client(Set.of(scope))).isEqualTo(new Caller("admit", Optional.ofNullable(role)));
    }

    private static String verdict(CheckResult result) {
        return result instanceof CheckResult.Refused refused
                ? refused.refusal().reason().toString()
                : "passed";
    }
}
