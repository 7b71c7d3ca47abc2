package dev.admit.server.admin;

import dev.admit.contract.AuditProof;
import dev.admit.contract.AuditView;
import dev.admit.contract.PageView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.audit.Audit;
import dev.admit.core.audit.AuditLine;
import dev.admit.core.audit.AuditTrail;
import dev.admit.core.audit.TokenEvents;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/**
 * An issuer's audit: who changed what, and every token issued. That of a removed issuer stays, under the issuer's id.
 */
@RestController
@RequestMapping("/admin/issuers/{issuer}/audit")
class AuditEndpoints {
    private static final int AT_ONCE = 500;

    private final Issuers issuers;
    private final AuditTrail trail;
    private final Audit audit;
    private final TokenEvents events;
    private final Times times;

    AuditEndpoints(Issuers issuers, AuditTrail trail, Audit audit, TokenEvents events, Times times) {
        this.issuers = issuers;
        this.trail = trail;
        this.audit = audit;
        this.events = events;
        this.times = times;
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping
    PageView<AuditView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestParam(defaultValue = "") String what,
            @RequestParam(defaultValue = "") String who,
            @RequestParam(defaultValue = "") String on,
            @RequestParam(required = false) String since,
            @RequestParam(required = false) String until) {
        String issuerId = issuerId(issuer);
        events.flush();
        AuditTrail.Filter filter = new AuditTrail.Filter(
                what.strip(),
                who.strip(),
                on.strip(),
                times.ago("/since", since).orElse(AuditTrail.Filter.ALL.since()),
                times.ago("/until", until).orElse(AuditTrail.Filter.ALL.until()));
        return Answers.page(trail.list(issuerId, filter, Answers.ask(limit, after)), AuditEndpoints::view);
    }

    /**
     * Every line from the first that is kept, as JSON lines; each with its hash, so that the chain can be computed anew
     * elsewhere.
     */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/export")
    void export(@PathVariable String issuer, HttpServletResponse response) throws IOException {
        String issuerId = issuerId(issuer);
        events.flush();
        response.setContentType("application/jsonl");
        OutputStream out = response.getOutputStream();
        long seq = 0;
        for (List<AuditLine> lines = trail.following(issuerId, 0, AT_ONCE);
                !lines.isEmpty();
                lines = trail.following(issuerId, seq, AT_ONCE)) {
            for (AuditLine line : lines) {
                String text = line.text();
                out.write((text.substring(0, text.length() - 1) + ",\"hash\":\"" + line.hash() + "\"}\n")
                        .getBytes(StandardCharsets.UTF_8));
            }
            seq = lines.getLast().seq();
        }
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/check")
    AuditProof verify(@PathVariable String issuer) {
        String issuerId = issuerId(issuer);
        events.flush();
        return switch (audit.verify(issuerId, seq -> {})) {
            case Audit.Proof.Whole(long first, long last) -> new AuditProof(true, first, last, null);
            case Audit.Proof.Broken(long seq, String fault) -> new AuditProof(false, seq, seq, fault);
        };
    }

    private String issuerId(String named) {
        return issuers.named(named)
                .map(Issuer::id)
                .or(() -> trail.ends(named).map(ends -> named))
                .orElseThrow(Lookup.absent("issuer", named));
    }

    private static AuditView view(AuditLine it) {
        return new AuditView(
                it.seq(),
                it.at(),
                it.what(),
                it.who(),
                it.whoId(),
                it.from(),
                it.on(),
                it.before(),
                it.after(),
                it.token().map(AuditLine.Token::id).orElse(null),
                it.token().map(AuditLine.Token::expiresAt).orElse(null),
                it.hash());
    }
}
