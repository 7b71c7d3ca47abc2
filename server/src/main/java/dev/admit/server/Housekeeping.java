package dev.admit.server;

import dev.admit.core.audit.Audit;
import dev.admit.core.audit.TokenEvents;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.authorization.DeviceRequests;
import dev.admit.core.clientauth.SecretUses;
import dev.admit.core.clientauth.UsedAssertions;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.decision.Decisions;
import dev.admit.core.limit.Quotas;
import dev.admit.core.mail.MailedCodes;
import dev.admit.core.mail.Mails;
import dev.admit.core.plan.Usage;
import dev.admit.core.registration.KeyRegistration;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.selfregistration.RemoveUnused;
import dev.admit.core.signin.Sessions;
import dev.admit.core.subscription.TellOfUse;
import dev.admit.core.token.Lifetime;
import dev.admit.core.token.OpaqueTokens;
import dev.admit.core.token.Revocations;
import dev.admit.core.token.StoredRevocations;
import dev.admit.core.tries.Tries;
import dev.admit.core.trust.TrustedKeys;
import dev.admit.server.operations.AccessLog;
import dev.admit.server.operations.LiveFeed;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** What has to be done again and again. */
@Component
class Housekeeping {
    private static final Logger LOG = LoggerFactory.getLogger(Housekeeping.class);
    private final Settings settings;
    private final Optional<TlsFiles> tls;
    private final Optional<AccessLog> accessLog;
    private final BatchedJournal journal;
    private final TokenEvents events;
    private final Audit audit;
    private final SecretUses uses;
    private final OpaqueTokens opaque;
    private static final Duration MAIL_KEPT = Duration.ofDays(7);

    private final UsedAssertions assertions;
    private final Sessions sessions;
    private final AuthorizationGrants grants;
    private final DeviceRequests devices;
    private final MailedCodes codes;
    private final Mails mails;
    private final KeyRegistration keys;
    private final Issuers issuers;
    private final Decisions decisions;
    private final StoredRevocations kept;
    private final Revocations revocations;
    private final TrustedKeys trusted;
    private final Quotas quotas;
    private final Usage usage;
    private final TellOfUse tellOfUse;
    private final LiveFeed feed;
    private final Tries.Stored tries;
    private final RemoveUnused unused;
    private final Clock clock;

    Housekeeping(
            AuthorizationServer.Opened opened,
            BatchedJournal journal,
            TokenEvents events,
            Audit audit,
            SecretUses uses,
            OpaqueTokens opaque,
            UsedAssertions assertions,
            Sessions sessions,
            AuthorizationGrants grants,
            DeviceRequests devices,
            MailedCodes codes,
            Mails mails,
            KeyRegistration keys,
            Issuers issuers,
            Decisions decisions,
            StoredRevocations kept,
            Revocations revocations,
            TrustedKeys trusted,
            Quotas quotas,
            Usage usage,
            TellOfUse tellOfUse,
            LiveFeed feed,
            Tries.Stored tries,
            RemoveUnused unused,
            Clock clock) {
        this.settings = opened.settings();
        this.tls = opened.tls();
        this.accessLog = opened.accessLog();
        this.journal = journal;
        this.events = events;
        this.audit = audit;
        this.uses = uses;
        this.opaque = opaque;
        this.assertions = assertions;
        this.sessions = sessions;
        this.grants = grants;
        this.devices = devices;
        this.codes = codes;
        this.mails = mails;
        this.keys = keys;
        this.issuers = issuers;
        this.decisions = decisions;
        this.kept = kept;
        this.revocations = revocations;
        this.trusted = trusted;
        this.quotas = quotas;
        this.usage = usage;
        this.tellOfUse = tellOfUse;
        this.feed = feed;
        this.tries = tries;
        this.unused = unused;
        this.clock = clock;
    }

    /**
     * Does one task. What goes wrong in it, an Error too, is told, and keeps no other task from its turn nor this one
     * from its next.
     */
    static void goOn(String what, Runnable task) {
        try {
            task.run();
        } catch (Throwable fault) {
            LOG.error("{} did not work", what, fault);
        }
    }

    @Scheduled(fixedDelay = 250)
    void tellOnlookers() {
        goOn("telling who looks on", feed::tell);
    }

    /** A killed process loses at most what came since: well under a second. */
    @Scheduled(fixedDelay = 250)
    void keepWhatWaits() {
        goOn("keeping token events", events::flush);
        goOn("keeping when secrets were used", uses::flush);
        goOn("keeping quotas", quotas::flush);
        goOn("keeping what subscriptions used", usage::flush);
        goOn("keeping decisions", journal::flush);
        goOn("keeping the access log", () -> accessLog.ifPresent(AccessLog::flush));
    }

    /** A failure of one issuer's key is told, and does not keep the others from theirs. */
    @Scheduled(fixedDelay = 60_000, initialDelay = 5_000)
    void rotateKeys() {
        for (Issuer issuer : issuers.all()) {
            goOn("making the next key of " + issuer.name(), () -> keys.rotateWhenDue(issuer));
        }
    }

    @Scheduled(fixedDelay = 30_000, initialDelay = 1_000)
    void lookForTheirKeys() {
        goOn("looking for keys of trusted issuers", trusted::lookForOld);
    }

    @Scheduled(fixedDelay = 1_000)
    void tellOfQuotas() {
        goOn("telling of quotas that are nearly used", tellOfUse::ofQuotas);
    }

    @Scheduled(fixedDelay = 2_000)
    void readCertificates() {
        goOn("reading certificates", () -> tls.ifPresent(TlsFiles::refresh));
    }

    @Scheduled(fixedDelay = 600_000, initialDelay = 60_000)
    void letGo() {
        Instant now = clock.instant();
        goOn("forgetting revocations that are over", () -> revocations.drop(now));
        goOn("forgetting kept revocations", () -> kept.drop(now));
        goOn("forgetting old quotas", () -> quotas.forget(now));
        goOn("forgetting what subscriptions used", () -> usage.forget(now));
        goOn("telling of secrets and plans that end", tellOfUse::ofEnds);
        goOn("forgetting opaque tokens", () -> opaque.drop(now.minus(Lifetime.SKEW)));
        goOn("removing clients that registered themselves and were never used", () -> unused.before(now));
        goOn("forgetting tries", () -> tries.drop(now.minus(Duration.ofHours(2))));
        goOn("forgetting used assertions", () -> assertions.drop(now));
        goOn("forgetting sessions", () -> sessions.drop(now));
        goOn("forgetting grants of tokens", () -> grants.drop(now.minus(Lifetime.LONGEST)));
        goOn("forgetting device requests", () -> devices.drop(now));
        goOn("forgetting mailed codes", () -> codes.drop(now));
        goOn("erasing codes in mails", () -> mails.eraseCodes(now));
        goOn("forgetting mails", () -> mails.drop(now.minus(MAIL_KEPT)));
        goOn("forgetting decisions", () -> decisions.forget(now.minus(settings.decisionsKept())));
        goOn("forgetting the audit", () -> audit.forget(now.minus(settings.auditKept())));
    }
}
