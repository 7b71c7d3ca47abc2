package dev.admit.core.signin;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.audit.AuditTrail;
import dev.admit.core.change.Page;
import dev.admit.core.json.StrictJson;
import java.time.Instant;
import java.util.Map;

/**
 * That a person's admin role was given, changed or taken away, as the audit has it.
 *
 * @param email whose
 * @param before the role before; {@code none} for none
 * @param by who changed it
 */
public record AdminRoleChange(Instant at, String email, String before, String after, String by) {
    /** What the line of the audit is called. */
    static final String WHAT = "person.admin-role";

    /** The newest first. */
    public static Page<AdminRoleChange> since(AuditTrail trail, String issuerId, Instant since, Page.Ask ask) {
        Page<AuditLine> lines =
                trail.list(issuerId, new AuditTrail.Filter(WHAT, "", "", since, AuditTrail.Filter.ALL.until()), ask);
        return new Page<>(lines.items().stream().map(AdminRoleChange::of).toList(), lines.next());
    }

    private static AdminRoleChange of(AuditLine line) {
        Map<String, Object> said = StrictJson.object(line.after()).orElse(Map.of());
        return new AdminRoleChange(
                line.at(),
                line.on(),
                String.valueOf(said.getOrDefault("before", "unknown")),
                String.valueOf(said.getOrDefault("after", "unknown")),
                line.who());
    }
}
