package dev.admit.core.signin;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Reason;
import dev.admit.core.person.Person;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * What a person may do at the admin API: an auditor reads, an operator changes, an administrator approves as well and says who runs
 * Admit. People of an issuer run that issuer; those of the service's own issuer run the service.
 */
public final class RunningRights {
    /** The scope under which a client may run Admit for a person. */
    public static final String SCOPE = "admit:run";
    private static final Set<String> READING = Set.of("GET", "HEAD", "OPTIONS");
    private static final Pattern ANSWERING = Pattern.compile("/admin/issuers/[^/]+/(approvals/[^/]+/(give|decline|withdraw)|clients/[^/]+/identity/[^/]+)");
    /** Who runs Admit, who can sign in as them, and who answers for what, which is to approve. */
    private static final Pattern WHO_RUNS = Pattern.compile("/admin/issuers/[^/]+/(people|owners)(/.*)?");
    /** Asks in a body, because there is a token in it, and changes nothing. */
    private static final Pattern ASKING = Pattern.compile("/admin/issuers/[^/]+/explain");
    private static final Pattern WHOLE = Pattern.compile("/admin/issuers/[^/]+/setup.*");

    private RunningRights() {}

    /**
     * @param issuer whose person it is
     * @param all    whether that is the service's own issuer
     * @param path   as it was matched, decoded
     */
    public static CheckResult check(Optional<Person> person, String issuer, boolean all, String method, String path) {
        Optional<Person.Running> rank = person.filter(Person::enabled).flatMap(Person::running);
        if (rank.isEmpty()) {
            return refused(Reason.NOT_THEIR_ROLE, "a person who runs Admit", "one who does not", Mend.of("Have them made one.", "admit person change ADDRESS --running auditor").by("an administrator"));
        }
        boolean own = path.equals("/admin/issuers/" + issuer) || path.startsWith("/admin/issuers/" + issuer + "/");
        boolean seen = READING.contains(method) && (path.equals("/admin") || path.equals("/admin/issuers") || path.equals("/admin/live") || path.equals("/admin/decisions") || path.startsWith("/admin/decisions/"));
        boolean removal = method.equals("DELETE") && path.equals("/admin/issuers/" + issuer);
        if (!all && (!own && !seen || removal)) {
            return refused(Reason.NOT_THEIR_ISSUER, "what belongs to the issuer " + issuer, removal ? "the issuer itself" : path, Mend.of("Have somebody do it who runs the service.").by("a person or client of the service's own issuer"));
        }
        if (READING.contains(method) || ASKING.matcher(path).matches()) return passed(rank.get());
        boolean forAdministrators = ANSWERING.matcher(path).matches() || WHO_RUNS.matcher(path).matches() || WHOLE.matcher(path).matches();
        boolean may = rank.get() == Person.Running.ADMINISTRATOR || rank.get() == Person.Running.OPERATOR && !forAdministrators;
        return may ? passed(rank.get()) : refused(Reason.NOT_THEIR_ROLE, rank.get() == Person.Running.AUDITOR ? "an operator or administrator" : "an administrator", "an " + rank.get(),
                Mend.of("Ask somebody who may.").by(forAdministrators ? "an administrator" : "an operator"));
    }

    private static CheckResult passed(Person.Running rank) {
        return CheckResult.passed("running", "a person who may do this at Admit", rank.toString());
    }

    private static CheckResult refused(Reason reason, String expected, String came, Mend mend) {
        return CheckResult.refused("running", reason, expected, came, mend);
    }
}
