package dev.admit.core.authorize;

import dev.admit.core.access.AdminApi;
import dev.admit.core.approval.PersonalApproval;
import dev.admit.core.approval.PersonalApprovals;
import dev.admit.core.audit.Audit;
import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.authorization.IssuedCode;
import dev.admit.core.authorization.OneTimeSecret;
import dev.admit.core.authorize.AuthorizationRequest.Prompt;
import dev.admit.core.authorize.AuthorizationRequest.Reply;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Known;
import dev.admit.core.change.Transactions;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.minting.MintingInForce;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.signin.SecondFactor;
import dev.admit.core.signin.SignedIn;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What comes next for an authorization request: a page for the person, or the answer to the client. Asked again after
 * each page, from the start, so that no step can be left out by going to the one behind it.
 */
public final class Authorize {
    private static final Duration CODE_LIFETIME = Duration.ofSeconds(60);

    private final KnownClients clients;
    private final TrialSignIns trials;
    private final PersonalApprovals personal;
    private final AuthorizationGrants grants;
    private final Transactions transactions;
    private final SecondFactor factor;
    private final Audit audit;

    public Authorize(
            KnownClients clients,
            TrialSignIns trials,
            PersonalApprovals personal,
            AuthorizationGrants grants,
            SecondFactor factor,
            Transactions transactions,
            Audit audit) {
        this.clients = clients;
        this.trials = trials;
        this.personal = personal;
        this.grants = grants;
        this.transactions = transactions;
        this.factor = factor;
        this.audit = audit;
    }

    /**
     * How far a request has come.
     *
     * @param startedAt when it came first: a sign-in that is wanted fresh has to be later
     * @param sessionId of the person that was chosen among those who are signed in
     */
    public record Progress(Instant startedAt, Optional<String> sessionId) {}

    /**
     * What the person said on the page that asks them.
     *
     * @param shown the scopes that stood there
     */
    public record Said(boolean approves, List<String> shown) {}

    /** What comes next. */
    public sealed interface Step {
        /** The request cannot be answered to the one who sent it. */
        record ForThePage(Refusal refusal) implements Step {}

        /** The answer to the client: a code or an error (RFC 6749 §4.1.2). */
        record Answer(Reply reply, Map<String, String> parameters) implements Step {
            @Override
            public String toString() {
                return "Answer[" + reply.redirectUri() + "]";
            }
        }

        /** The same, once the person goes there by themselves: nobody has checked who is there. */
        record AnswerByPerson(Answer answer) implements Step {}

        /**
         * @param create whether they want to sign up
         * @param again who has to prove themselves anew
         */
        record SignIn(AuthorizationRequest request, boolean create, Optional<SignedIn> again) implements Step {}

        record Choose(AuthorizationRequest request, List<SignedIn> people) implements Step {}

        record SecondFactor(AuthorizationRequest request, SignedIn who) implements Step {}

        record Approve(AuthorizationRequest request, SignedIn who, EffectiveRights rights) implements Step {}
    }

    /**
     * @param people who are signed in in this browser
     * @param said what the chosen person answered just now, when they did
     */
    public Step next(
            RequestParameters asked,
            CompiledIssuer issuer,
            List<SignedIn> people,
            Progress progress,
            Optional<Said> said,
            Recorder decision) {
        return switch (new ReadRequest(clients, trials, issuer, asked, decision).read(decision.at())) {
            case ReadRequest.Reading.ForThePage page ->
                new Step.ForThePage(decision.refusal().orElseThrow());
            case ReadRequest.Reading.Refused(Reply reply) -> error(reply, issuer, decision);
            case ReadRequest.Reading.Good(AuthorizationRequest request) ->
                choose(request, issuer, people, progress, said, decision);
        };
    }

    private Step choose(
            AuthorizationRequest request,
            CompiledIssuer issuer,
            List<SignedIn> people,
            Progress progress,
            Optional<Said> said,
            Recorder decision) {
        boolean silent = request.prompts().contains(Prompt.NONE);
        Optional<SignedIn> chosen = people.stream()
                .filter(it ->
                        progress.sessionId().equals(Optional.of(it.session().id())))
                .findFirst();
        if (chosen.isEmpty()) {
            if (people.isEmpty() || request.prompts().contains(Prompt.CREATE)) {
                return silent
                        ? refuse(
                                "sign-in",
                                Reason.PERSON_NOT_SIGNED_IN,
                                "a person who is signed in",
                                "nobody",
                                Fix.of("Send the request without prompt=none."),
                                request,
                                issuer,
                                decision)
                        : new Step.SignIn(request, request.prompts().contains(Prompt.CREATE), Optional.empty());
            }
            Optional<SignedIn> hinted = people.stream()
                    .filter(it -> request.loginHint()
                            .filter(hint -> hint.equalsIgnoreCase(it.person().email()))
                            .isPresent())
                    .findFirst();
            if (!silent && (request.prompts().contains(Prompt.SELECT_ACCOUNT) || people.size() > 1 && hinted.isEmpty()))
                return new Step.Choose(request, people);
            if (people.size() > 1 && hinted.isEmpty()) {
                return refuse(
                        "sign-in",
                        Reason.SEVERAL_PEOPLE_SIGNED_IN,
                        "one person who is signed in",
                        people.size() + " of them",
                        Fix.of("Send login_hint with the address of one, or leave prompt=none out."),
                        request,
                        issuer,
                        decision);
            }
            chosen = Optional.of(hinted.orElse(people.getFirst()));
        }
        return prove(request, issuer, chosen.get(), progress, said, decision);
    }

    private Step prove(
            AuthorizationRequest request,
            CompiledIssuer issuer,
            SignedIn who,
            Progress progress,
            Optional<Said> said,
            Recorder decision) {
        boolean silent = request.prompts().contains(Prompt.NONE);
        decision.subject(who.person().id());
        Instant signedIn = who.session().authTime();
        boolean wantedFresh = request.prompts().contains(Prompt.LOGIN) && signedIn.isBefore(progress.startedAt());
        // OpenID Connect Core §3.1.2.1: older than max_age wants a fresh one; a sign-in since the request came is fresh
        // enough.
        boolean tooOld = signedIn.isBefore(progress.startedAt())
                && request.maxAge()
                        .filter(age -> signedIn.plus(age).isBefore(decision.at()) || age.isZero())
                        .isPresent();
        if (wantedFresh || tooOld) {
            return silent
                    ? refuse(
                            "sign-in",
                            Reason.PERSON_NOT_SIGNED_IN,
                            "a sign-in of at most max_age",
                            "one of " + signedIn,
                            Fix.of("Send the request without prompt=none."),
                            request,
                            issuer,
                            decision)
                    : new Step.SignIn(request, false, Optional.of(who));
        }
        decision.add(CheckResult.passed(
                "sign-in",
                request.maxAge()
                        .map(age -> "a sign-in at most %d s ago".formatted(age.toSeconds()))
                        .orElse("a person who is signed in"),
                who.person().email()));
        if (needsSecondFactor(request, issuer, who) && !who.session().hasSecondFactor()) {
            return silent
                    ? refuse(
                            "second-factor",
                            Reason.SIGN_IN_TOO_WEAK,
                            "a sign-in with a second factor",
                            "one without",
                            Fix.of("Send the request without prompt=none."),
                            request,
                            issuer,
                            decision)
                    : new Step.SecondFactor(request, who);
        }
        decision.add(CheckResult.passed(
                "second-factor",
                needsSecondFactor(request, issuer, who) ? "a second factor" : "any sign-in",
                String.join(" ", who.session().methods())));
        return approve(request, issuer, who, said, decision);
    }

    private boolean needsSecondFactor(AuthorizationRequest request, CompiledIssuer issuer, SignedIn who) {
        return request.wantsSecondFactor()
                || factor.isNeeded(who.person(), issuer, request.client().client());
    }

    private Step approve(
            AuthorizationRequest request, CompiledIssuer issuer, SignedIn who, Optional<Said> said, Recorder decision) {
        boolean silent = request.prompts().contains(Prompt.NONE);
        EffectiveRights rights = rights(request, issuer, who, decision.at());
        if (said.isPresent() && !said.get().approves()) {
            return refuse(
                    "approval",
                    Reason.PERSON_DECLINED,
                    "the person's approval",
                    "a no",
                    Fix.of("Ask again when the person wants it."),
                    request,
                    issuer,
                    decision);
        }
        boolean askAnyway = request.prompts().contains(Prompt.CONSENT)
                || !rights.forAdministrator().isEmpty();
        // RFC 8252 §8.6, RFC 6749 §10.2: any local program can pass for such a client; so only the person can tell that
        // it is the one they started.
        if (said.isEmpty() && isUnproven(request, issuer) && matters(rights)) {
            return silent
                    ? refuse(
                            "approval",
                            Reason.PERSON_HAS_NOT_APPROVED,
                            "the person's approval each time, because any program on the device can pass for this "
                                    + "client",
                            "none",
                            Fix.of("Send the request without prompt=none."),
                            request,
                            issuer,
                            decision)
                    : new Step.Approve(request, who, rights);
        }
        boolean allWasShown = said.isPresent() && said.get().shown().containsAll(rights.toApprove());
        if (!allWasShown && (!rights.toApprove().isEmpty() || askAnyway && !silent)) {
            return silent
                    ? refuse(
                            "approval",
                            Reason.PERSON_HAS_NOT_APPROVED,
                            "the person's approval of each scope",
                            "none yet of " + String.join(" ", rights.toApprove()),
                            Fix.of("Send the request without prompt=none."),
                            request,
                            issuer,
                            decision)
                    : new Step.Approve(request, who, rights);
        }
        if (allWasShown && !rights.toApprove().isEmpty()) {
            note(request, issuer, who, rights.toApprove(), decision);
            rights = rights(request, issuer, who, decision.at());
        }
        addChecks(request, rights, decision);
        if (rights.isEmpty()) {
            boolean mayNot = !rights.notTheirs().isEmpty();
            return refuse(
                    mayNot ? "person-may" : "approval",
                    mayNot ? Reason.PERSON_LACKS_ROLE : Reason.ADMINISTRATOR_HAS_NOT_APPROVED,
                    mayNot ? "a person with a role that has the scope" : "an administrator's approval",
                    String.join(" ", mayNot ? rights.notTheirs() : rights.forAdministrator()),
                    mayNot
                            ? roleFix(rights.notTheirs().getFirst(), issuer, who)
                            : Fix.of(
                                            "An administrator must approve it for this client.",
                                            giving(
                                                    request.client().client().name(),
                                                    rights.forAdministrator().getFirst()))
                                    .by("an administrator"),
                    request,
                    issuer,
                    decision);
        }
        return code(request, issuer, who, rights, decision);
    }

    /**
     * A client without a credential, whose address says nothing of who answers there: no https, and not this service
     * itself.
     */
    private static boolean isUnproven(AuthorizationRequest request, CompiledIssuer issuer) {
        String to = request.reply().redirectUri();
        boolean toThisService =
                to.startsWith(issuer.url().substring(0, issuer.url().lastIndexOf('/') + 1));
        return !request.client().client().kind().confidential() && !to.startsWith("https://") && !toThisService;
    }

    /** What is to be requested each time: running Admit, going on without the person, and changing things. */
    private static boolean matters(EffectiveRights rights) {
        return rights.identity().contains(AdminApi.RUN)
                || rights.identity().contains(IdentityScopes.OFFLINE)
                || rights.granted().stream().anyMatch(scope -> scope.effect() != Scope.Effect.READS);
    }

    private static Fix roleFix(String scope, CompiledIssuer issuer, SignedIn who) {
        return issuer.rolesById().values().stream()
                .filter(it -> it.scopes().contains(scope))
                .map(Role::name)
                .sorted()
                .findFirst()
                .map(role -> Fix.of(
                                "Have the person granted the role %s.".formatted(role),
                                Action.of("person", "change", who.person().email())
                                        .with("add-role", role))
                        .by("an administrator"))
                .orElseGet(() -> Fix.of("Have %s put into a role, and the person granted that role.".formatted(scope))
                        .by("an administrator"));
    }

    private static Action giving(String client, String scope) {
        return IdentityScopes.isOne(scope)
                ? Action.of("approval", "openid", client)
                : Action.of("approval", "grant", client, scope);
    }

    private EffectiveRights rights(AuthorizationRequest request, CompiledIssuer issuer, SignedIn who, Instant now) {
        return EffectiveRights.of(
                request.scopes(),
                issuer,
                request.client(),
                who.person(),
                personal.of(who.person().id(), request.client().client().id()),
                now);
    }

    private static void addChecks(AuthorizationRequest request, EffectiveRights rights, Recorder decision) {
        decision.add(CheckResult.passed(
                "requested", "scopes that this client requests", String.join(" ", request.scopes())));
        decision.add(CheckResult.passed(
                "approval",
                "an approval of each, for everyone or by the person",
                rights.forAdministrator().isEmpty()
                        ? "of all"
                        : "not yet of " + String.join(" ", rights.forAdministrator()) + ", which stays out"));
        decision.add(CheckResult.passed(
                "person-may",
                "what the person may do, by role or because it is open to all",
                rights.notTheirs().isEmpty()
                        ? "all of it"
                        : "not " + String.join(" ", rights.notTheirs()) + ", which stays out"));
        decision.scopes(String.join(" ", rights.names()));
    }

    private void note(
            AuthorizationRequest request, CompiledIssuer issuer, SignedIn who, List<String> scopes, Recorder decision) {
        String clientId = request.client().client().id();
        transactions.inOne(() -> {
            for (String scope : scopes)
                personal.insert(
                        new PersonalApproval(issuer.issuer().id(), who.person().id(), clientId, scope, decision.at()));
            audit.added(
                    new Actor(who.person().id(), who.person().email(), decision.from()),
                    issuer.issuer().id(),
                    "approval.by-person",
                    request.client().client().name(),
                    Map.of("client", clientId, "scopes", String.join(" ", scopes)));
            return null;
        });
    }

    private Step code(
            AuthorizationRequest request,
            CompiledIssuer issuer,
            SignedIn who,
            EffectiveRights rights,
            Recorder decision) {
        Instant now = decision.at();
        String code = OneTimeSecret.code();
        boolean offline = rights.identity().contains(IdentityScopes.OFFLINE);
        AuthorizationGrant grant = new AuthorizationGrant(
                Ids.random("fam_"),
                issuer.issuer().id(),
                request.client().client().id(),
                who.person().id(),
                offline ? Optional.empty() : Optional.of(who.session().id()),
                rights.names(),
                request.resources(),
                request.nonce(),
                who.session().authTime(),
                who.session().methods(),
                now,
                now.plus(longest(request.resources(), request.client().client(), issuer)),
                Optional.empty());
        transactions.inOne(() -> {
            grants.insert(grant);
            grants.insert(new IssuedCode(
                    SecretHash.of(code),
                    grant.id(),
                    grant.clientId(),
                    request.reply().redirectUri(),
                    request.challenge(),
                    now.plus(CODE_LIFETIME),
                    Optional.empty()));
            return null;
        });
        decision.done("gave a code for " + request.resources().getFirst());
        return answer(request.reply(), issuer, Map.of("code", code));
    }

    /** The strictest of the APIs that tokens may be for. */
    static Duration longest(List<String> resources, Client client, CompiledIssuer issuer) {
        Duration longest = Duration.ofDays(366);
        for (String audience : resources) {
            MintingInForce minting = Known.in(
                    issuer.mintings(),
                    issuer.forAudience(audience).orElseThrow().id());
            Duration its = minting.applied(client, "refresh_token").maxRefreshAge();
            if (its.compareTo(longest) < 0) longest = its;
        }
        return longest;
    }

    private Step refuse(
            String check,
            Reason reason,
            String expected,
            String received,
            Fix fix,
            AuthorizationRequest request,
            CompiledIssuer issuer,
            Recorder decision) {
        decision.add(CheckResult.refused(check, reason, expected, received, fix));
        return error(request.reply(), issuer, decision);
    }

    /**
     * RFC 9700 §4.11.2: a stranger who registers a client could otherwise use this service to send people who trust it
     * wherever the stranger likes. A person who just said no has seen where they are going.
     */
    private static Step error(Reply reply, CompiledIssuer issuer, Recorder decision) {
        Refusal refusal = decision.refusal().orElseThrow();
        Map<String, String> parameters = new LinkedHashMap<>();
        parameters.put("error", refusal.reason().error());
        parameters.put("error_description", refusal.description());
        Step.Answer answer = answer(reply, issuer, parameters);
        boolean sent = !reply.client().selfRegistered() || refusal.reason() == Reason.PERSON_DECLINED;
        return sent ? answer : new Step.AnswerByPerson(answer);
    }

    private static Step.Answer answer(Reply reply, CompiledIssuer issuer, Map<String, String> parameters) {
        Map<String, String> all = new LinkedHashMap<>(parameters);
        reply.state().ifPresent(state -> all.put("state", state));
        all.put("iss", issuer.url()); // RFC 9207 §2, on errors too
        return new Step.Answer(reply, all);
    }
}
