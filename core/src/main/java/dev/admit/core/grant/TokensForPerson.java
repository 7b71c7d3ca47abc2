package dev.admit.core.grant;

import dev.admit.core.access.AdminApi;
import dev.admit.core.approval.PersonalApprovals;
import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.authorization.OneTimeSecret;
import dev.admit.core.authorization.RefreshToken;
import dev.admit.core.authorize.EffectiveRights;
import dev.admit.core.authorize.IdentityScopes;
import dev.admit.core.change.Known;
import dev.admit.core.change.Transactions;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Command;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.minting.MintingInForce;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.signin.Sessions;
import dev.admit.core.token.MintAccessToken;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.BooleanSupplier;

/**
 * Makes the tokens of a grant: what codes, refresh tokens and device codes have in common. What the person may do, and
 * what was approved, is looked at anew each time; so a token never carries more than holds at its minting.
 */
public final class TokensForPerson {
    final AuthorizationGrants grants;
    private final People people;
    private final Sessions sessions;
    private final PersonalApprovals personal;
    private final Transactions transactions;

    public TokensForPerson(
            AuthorizationGrants grants,
            People people,
            Sessions sessions,
            PersonalApprovals personal,
            Transactions transactions) {
        this.grants = grants;
        this.people = people;
        this.sessions = sessions;
        this.personal = personal;
        this.transactions = transactions;
    }

    /**
     * What is wanted of a grant.
     *
     * @param scope to narrow what the access token carries; empty for all
     * @param resource the audience; empty for the usual one
     * @param refresh whether a refresh token goes with it, where the client may use one; nothing that outlives a trial
     *     goes with it
     */
    record Wanted(String grantType, Optional<String> scope, List<String> resource, boolean refresh) {}

    /** What issuing came to. */
    sealed interface Outcome {
        record Issued(GrantOutcome.Issued issued) implements Outcome {}

        /** A check refused, and nothing was written. */
        record Refused() implements Outcome {}

        /** Another request redeemed it first, and nothing was written. */
        record ClaimedBefore() implements Outcome {}
    }

    /** Everything that is needed before the first write. */
    private record Ready(
            AuthorizationGrant grant,
            Person person,
            GrantedScopes entitled,
            Optional<String> refreshToken,
            GrantOutcome.Issued issued) {}

    /**
     * @param claim the write that settles who of several redeems: run in the same transaction as the refresh token is
     *     written
     */
    Outcome issue(
            AuthorizationGrant grant,
            Wanted wanted,
            BooleanSupplier claim,
            Redemption asked,
            Decision.Builder decision) {
        Optional<Ready> ready = prepare(grant, wanted, asked, decision);
        if (ready.isEmpty()) return new Outcome.Refused();
        Ready it = ready.get();
        boolean claimed = transactions.inOne(() -> {
            if (!claim.getAsBoolean()) return false;
            it.refreshToken()
                    .ifPresent(text -> grants.insert(new RefreshToken(
                            SecretHash.of(text),
                            grant.id(),
                            grant.clientId(),
                            asked.now(),
                            idleUntil(it, wanted, asked),
                            Optional.empty())));
            return true;
        });
        return claimed ? new Outcome.Issued(it.issued()) : new Outcome.ClaimedBefore();
    }

    private static Instant idleUntil(Ready it, Wanted wanted, Redemption asked) {
        MintingInForce minting =
                Known.in(asked.issuer().mintings(), it.entitled().api().id());
        Instant idle = asked.now()
                .plus(minting.applied(asked.client().client(), wanted.grantType())
                        .refreshIdleTimeout());
        return idle.isBefore(it.grant().endsAt()) ? idle : it.grant().endsAt();
    }

    private Optional<Ready> prepare(
            AuthorizationGrant grant, Wanted wanted, Redemption asked, Decision.Builder decision) {
        CompiledIssuer issuer = asked.issuer();
        KnownClient client = asked.client();
        Instant now = asked.now();
        Optional<Person> person = present(grant, now, decision);
        if (person.isEmpty()) return Optional.empty();
        Optional<Api> api = chooseApi(grant, wanted.resource(), issuer, decision);
        if (api.isEmpty()) return Optional.empty();
        Optional<GrantedScopes> entitled = entitle(
                        grant, wanted, api.get(), person.get(), issuer, client, now, decision)
                .map(it -> asked.trial().map(trial -> trial.limiting(it, now)).orElse(it));
        if (entitled.isEmpty()) return Optional.empty();
        MintAccessToken.OnBehalf onBehalf =
                new MintAccessToken.OnBehalf(grant.sessionId(), grant.id(), grant.authTime(), grant.methods());
        Optional<GrantOutcome.Issued> minted = MintFor.mint(
                client.client(),
                wanted.grantType(),
                entitled.get(),
                Optional.of(new MintFor.ForPerson(person.get().id(), onBehalf, seen(person.get(), issuer))),
                issuer,
                asked.id(),
                now,
                decision);
        if (minted.isEmpty()) return Optional.empty();
        Map<String, String> beside = new LinkedHashMap<>();
        boolean mayRefresh = wanted.refresh()
                && client.client().mayUse(RefreshTokenGrant.TYPE)
                && issuer.issuer().settings().allows(RefreshTokenGrant.TYPE);
        Optional<String> refreshToken = mayRefresh ? Optional.of(OneTimeSecret.refreshToken()) : Optional.empty();
        refreshToken.ifPresent(text -> beside.put("refresh_token", text));
        if (asked.trial().isEmpty() && entitled.get().scopeNames().contains(IdentityScopes.OPENID)) {
            beside.put(
                    "id_token",
                    MintIdToken.mint(
                            grant,
                            person.get(),
                            entitled.get().scopeNames(),
                            minted.get(),
                            issuer,
                            client.client(),
                            now));
        }
        return Optional.of(new Ready(
                grant, person.get(), entitled.get(), refreshToken, minted.get().beside(beside)));
    }

    private Optional<Person> present(AuthorizationGrant grant, Instant now, Decision.Builder decision) {
        Fix again = Fix.of("Have the person sign in again.");
        if (grant.isOverAt(now))
            return refuse(
                    "grant",
                    Reason.SIGN_IN_ENDED,
                    "an authorization that goes on",
                    grant.endedAt().isPresent() ? "one that was ended" : "one that expired",
                    again,
                    decision);
        if (grant.sessionId()
                .filter(session -> sessions.find(session, now).isEmpty())
                .isPresent()) {
            return refuse(
                    "session",
                    Reason.SIGN_IN_ENDED,
                    "a person who is still signed in, or offline_access",
                    "one who signed out",
                    again,
                    decision);
        }
        Optional<Person> person = people.find(grant.personId());
        if (person.filter(Person::enabled).isEmpty()) {
            return refuse(
                    "person",
                    Reason.PERSON_SWITCHED_OFF,
                    "a person who may sign in",
                    "one who may not",
                    person.map(it -> Fix.of("Have them switched on.", Command.of("person", "on", it.email()))
                                    .by("an administrator"))
                            .orElse(again),
                    decision);
        }
        decision.subject(person.get().id());
        decision.add(CheckResult.passed(
                "person",
                "a person who may sign in, and an authorization that goes on",
                person.get().email()));
        return person;
    }

    private static Optional<Api> chooseApi(
            AuthorizationGrant grant, List<String> wanted, CompiledIssuer issuer, Decision.Builder decision) {
        if (wanted.stream().distinct().count() > 1) {
            return refuse(
                    "resource",
                    Reason.RESOURCE_NOT_GRANTED,
                    "one resource",
                    wanted.size() + " of them",
                    Fix.of("Request a token for each in turn."),
                    decision);
        }
        String audience = wanted.isEmpty() ? grant.resources().getFirst() : wanted.getFirst();
        Optional<Api> api = grant.resources().contains(audience) ? issuer.forAudience(audience) : Optional.empty();
        if (api.isEmpty()) {
            return refuse(
                    "resource",
                    Reason.RESOURCE_NOT_GRANTED,
                    "one of " + String.join(", ", grant.resources()),
                    dev.admit.core.change.Fields.quoted(audience),
                    Fix.of("Name a resource that the authorization request named."),
                    decision);
        }
        decision.api(api.get().name());
        return api;
    }

    private Optional<GrantedScopes> entitle(
            AuthorizationGrant grant,
            Wanted wanted,
            Api api,
            Person person,
            CompiledIssuer issuer,
            KnownClient client,
            Instant now,
            Decision.Builder decision) {
        List<String> requested =
                wanted.scope().map(text -> List.of(text.strip().split(" +"))).orElse(grant.scopes());
        Optional<String> more = requested.stream()
                .filter(name -> !grant.scopes().contains(name))
                .findFirst();
        if (more.isPresent()) {
            // RFC 6749 §6: never more than was given at first.
            return refuse(
                    "scope",
                    Reason.SCOPE_NOT_GRANTED,
                    "scopes among " + String.join(" ", grant.scopes()),
                    dev.admit.core.change.Fields.quoted(more.get()),
                    Fix.of("Send another authorization request for more."),
                    decision);
        }
        EffectiveRights rights = EffectiveRights.of(
                requested,
                issuer,
                client,
                person,
                personal.of(person.id(), client.client().id()),
                now);
        List<String> names = new ArrayList<>(rights.identity());
        if (!api.audience().equals(issuer.admin().audience())) names.remove(AdminApi.RUN); // for the admin API alone
        rights.granted().stream()
                .filter(scope -> scope.apiId().equals(api.id()))
                .map(Scope::name)
                .forEach(names::add);
        List<String> notApproved = new ArrayList<>(rights.toApprove());
        notApproved.addAll(rights.forAdministrator());
        decision.add(
                CheckResult.passed("requested", "of " + String.join(" ", grant.scopes()), String.join(" ", requested)));
        decision.add(CheckResult.passed(
                "approved",
                "approved for everyone, or by the person",
                notApproved.isEmpty() ? "all of it" : "no longer " + String.join(" ", notApproved)));
        decision.add(CheckResult.passed(
                "person-may",
                "what the person may do, by role or because it is open to all",
                rights.notTheirs().isEmpty() ? "all of it" : "no longer " + String.join(" ", rights.notTheirs())));
        if (names.isEmpty()) {
            return refuse(
                    "scope",
                    Reason.NO_SCOPE_LEFT,
                    "a scope of %s that is approved and that the person may use".formatted(api.audience()),
                    "none",
                    Fix.of("Name another resource, or have the person sign in again to approve."),
                    decision);
        }
        decision.scopes(String.join(" ", names));
        return Optional.of(new GrantedScopes(api, names, rights.until()));
    }

    /** What expressions of minting see. */
    private static Map<String, Object> seen(Person person, CompiledIssuer issuer) {
        Map<String, Object> seen = new HashMap<>(person.profile());
        seen.put("id", person.id());
        seen.put("email", person.email());
        seen.put("name", person.name());
        seen.put(
                "roles",
                person.roles().stream()
                        .map(issuer.rolesById()::get)
                        .filter(Objects::nonNull)
                        .map(Role::name)
                        .sorted()
                        .toList());
        return seen;
    }

    static <T> Optional<T> refuse(
            String check, Reason reason, String expected, String received, Fix fix, Decision.Builder decision) {
        decision.add(CheckResult.refused(check, reason, expected, received, fix));
        return Optional.empty();
    }
}
