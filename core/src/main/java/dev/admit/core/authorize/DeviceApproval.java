package dev.admit.core.authorize;

import dev.admit.core.approval.PersonalApproval;
import dev.admit.core.approval.PersonalApprovals;
import dev.admit.core.audit.Audit;
import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.authorization.DeviceRequest;
import dev.admit.core.authorization.DeviceRequests;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Transactions;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.clientauth.SlowedGuessing;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.signin.SecondFactor;
import dev.admit.core.signin.SignedIn;
import dev.admit.core.tries.Network;
import dev.admit.core.tries.Tries;
import java.time.Instant;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A person answers a device that has no browser (RFC 8628 §3.3). */
public final class DeviceApproval {
    private final KnownClients clients;
    private final DeviceRequests devices;
    private final AuthorizationGrants grants;
    private final PersonalApprovals personal;
    private final SecondFactor factor;
    private final SlowedGuessing guessing;
    private final Tries tries;
    private final Transactions transactions;
    private final Audit audit;

    public DeviceApproval(
            KnownClients clients,
            DeviceRequests devices,
            AuthorizationGrants grants,
            PersonalApprovals personal,
            SecondFactor factor,
            SlowedGuessing guessing,
            Tries tries,
            Transactions transactions,
            Audit audit) {
        this.clients = clients;
        this.devices = devices;
        this.grants = grants;
        this.personal = personal;
        this.factor = factor;
        this.guessing = guessing;
        this.tries = tries;
        this.transactions = transactions;
        this.audit = audit;
    }

    /** A device that waits, with what its client would get. */
    public record Waiting(DeviceRequest request, KnownClient client, EffectiveRights rights) {}

    /**
     * Looks a typed code up. Codes are short, so a browser and a network have few tries, charged before the code is
     * looked at (§5.1).
     *
     * @param browser the text of the browser's cookie
     */
    public Optional<DeviceRequest> find(String typed, String browser, CompiledIssuer issuer, Recorder decision) {
        Instant now = decision.at();
        String session = HexFormat.of().formatHex(SecretHash.of(browser).bytes(), 0, 16);
        String network = Network.of(decision.from());
        if (!tries.charge(Tries.At.USER_CODE_FROM_NETWORK, network, now)
                || !tries.charge(Tries.At.USER_CODE_IN_BROWSER, session, now)) {
            decision.add(CheckResult.refused(
                    "user-code",
                    Reason.TOO_MANY_WRONG_CREDENTIALS,
                    "at most %d wrong codes in %d minutes"
                            .formatted(
                                    Tries.At.USER_CODE_IN_BROWSER.most(),
                                    Tries.At.USER_CODE_IN_BROWSER.stretch().toMinutes()),
                    "more",
                    Fix.of("Wait a quarter of an hour, then begin again on the device.")));
            return Optional.empty();
        }
        Optional<DeviceRequest> found = again(typed, issuer, decision);
        if (found.isPresent()) {
            tries.giveBack(Tries.At.USER_CODE_FROM_NETWORK, network, now);
            tries.giveBack(Tries.At.USER_CODE_IN_BROWSER, session, now);
        }
        return found;
    }

    /** The same for a code that was found before, and has come back sealed. */
    public Optional<DeviceRequest> again(String typed, CompiledIssuer issuer, Recorder decision) {
        Optional<DeviceRequest> found =
                devices.waiting(issuer.issuer().id(), DeviceRequest.typed(typed), decision.at());
        if (found.isEmpty()) {
            decision.take(guessing.refused(
                    "",
                    CheckResult.refused(
                            "user-code",
                            Reason.DEVICE_CODE_UNUSABLE,
                            "the code that a device shows now",
                            "one that none shows",
                            Fix.of("Check it, or begin again on the device.")),
                    decision.from()));
        }
        return found;
    }

    public Optional<Waiting> waiting(DeviceRequest request, CompiledIssuer issuer, SignedIn who, Recorder decision) {
        return clients.find(request.clientId())
                .filter(it -> it.client().enabled())
                .map(client -> new Waiting(request, client, rights(request, issuer, client, who, decision)));
    }

    private EffectiveRights rights(
            DeviceRequest request, CompiledIssuer issuer, KnownClient client, SignedIn who, Recorder decision) {
        return EffectiveRights.of(
                request.scopes(),
                issuer,
                client,
                who.person(),
                personal.of(who.person().id(), request.clientId()),
                decision.at());
    }

    /** Whether the person needs a second factor before they answer. */
    public boolean needsSecondFactor(Waiting waiting, CompiledIssuer issuer, SignedIn who) {
        return !who.session().hasSecondFactor()
                && factor.isNeeded(who.person(), issuer, waiting.client().client());
    }

    /**
     * @param shown the scopes that stood on the page.
     * @return whether it was the answer: a person may have been quicker
     */
    public boolean answer(
            Waiting waiting,
            boolean approves,
            List<String> shown,
            CompiledIssuer issuer,
            SignedIn who,
            Recorder decision) {
        DeviceRequest request = waiting.request();
        decision.client(
                        waiting.client().client().id(),
                        waiting.client().client().name())
                .subject(who.person().id());
        if (!approves || !shown.containsAll(waiting.rights().toApprove())) {
            decision.add(CheckResult.refused(
                    "approval",
                    Reason.PERSON_DECLINED,
                    "the person's approval",
                    "a no",
                    Fix.of("Begin again on the device when the person wants it.")));
            return devices.answer(request.hash(), DeviceRequest.Status.DECLINED, Optional.empty());
        }
        boolean offline = request.scopes().contains(IdentityScopes.OFFLINE);
        AuthorizationGrant grant = new AuthorizationGrant(
                Ids.random("fam_"),
                issuer.issuer().id(),
                request.clientId(),
                who.person().id(),
                offline ? Optional.empty() : Optional.of(who.session().id()),
                request.scopes(),
                request.resources(),
                Optional.empty(),
                who.session().authTime(),
                who.session().methods(),
                decision.at(),
                decision.at()
                        .plus(Authorize.longest(
                                request.resources(), waiting.client().client(), issuer)),
                Optional.empty());
        decision.add(CheckResult.passed("approval", "the person's approval", "a yes"));
        return transactions.inOne(() -> {
            for (String scope : waiting.rights().toApprove())
                personal.insert(new PersonalApproval(
                        issuer.issuer().id(), who.person().id(), request.clientId(), scope, decision.at()));
            grants.insert(grant);
            audit.added(
                    new Actor(who.person().id(), who.person().email(), decision.from()),
                    issuer.issuer().id(),
                    "approval.by-person",
                    waiting.client().client().name(),
                    Map.of(
                            "client",
                            request.clientId(),
                            "scopes",
                            String.join(" ", request.scopes()),
                            "device",
                            "yes"));
            return devices.answer(request.hash(), DeviceRequest.Status.APPROVED, Optional.of(grant.id()));
        });
    }
}
