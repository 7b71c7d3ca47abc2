package dev.admit.core.grant;

import dev.admit.core.access.AdminApi;
import dev.admit.core.approval.PersonalApprovals;
import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.authorization.OneTimeSecret;
import dev.admit.core.authorization.RefreshToken;
import dev.admit.core.authorize.EffectiveRights;
import dev.admit.core.authorize.IdentityScopes;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Known;
import dev.admit.core.change.Transactions;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.minting.MintingInForce;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
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
            GrantedScopes entitled,
            Optional<String> refreshToken,
            GrantOutcome.Issued issued) {}

    /**
     * @param claim the write that settles who of several redeems: run in the same transaction as the refresh token is
     *     written
     */
    Outcome issue(AuthorizationGrant grant, Wanted wanted, BooleanSupplier claim, Redemption asked, Recorder decision) {
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

    private Optional<Ready> prepare(AuthorizationGrant grant, Wanted wanted, Redemption asked, Recorder decision) {
        CompiledIssuer issuer = asked.issuer();
        Person person = decision.take(present(grant, asked.now()));
        if (person == null) return Optional.empty();
        decision.subject(person.id());
        Api api = decision.take(chooseApi(grant, wanted.resource(), issuer));
        if (api == null) return Optional.empty();
        decision.api(api.name());
        List<String> requested = decision.take(requested(grant, wanted));
        if (requested == null) return Optional.empty();
        EffectiveRights rights = decision.take(rights(requested, person, asked));
        if (rights == null) return Optional.empty();
        GrantedScopes granted = decision.take(granted(rights, api, issuer));
        if (granted == null) return Optional.empty();
        decision.scopes(granted.text());
        GrantedScopes entitled = asked.limited(granted);
        MintAccessToken.OnBehalf onBehalf =
                new MintAccessToken.OnBehalf(grant.sessionId(), grant.id(), grant.authTime(), grant.methods());
        GrantOutcome.Issued minted = decision.take(MintFor.mint(
                asked,
                wanted.grantType(),
                entitled,
                Optional.of(new MintFor.ForPerson(person.id(), onBehalf, seen(person, issuer)))));
        if (minted == null) return Optional.empty();
        return Optional.of(ready(grant, wanted, asked, person, entitled, minted));
    }

    private static Ready ready(
            AuthorizationGrant grant,
            Wanted wanted,
            Redemption asked,
            Person person,
            GrantedScopes entitled,
            GrantOutcome.Issued minted) {
        Client client = asked.client().client();
        Map<String, String> beside = new LinkedHashMap<>();
        boolean mayRefresh = wanted.refresh()
                && client.mayUse(RefreshTokenGrant.TYPE)
                && asked.issuer().issuer().settings().allows(RefreshTokenGrant.TYPE);
        Optional<String> refreshToken = mayRefresh ? Optional.of(OneTimeSecret.refreshToken()) : Optional.empty();
        refreshToken.ifPresent(text -> beside.put("refresh_token", text));
        if (asked.trial().isEmpty() && entitled.scopeNames().contains(IdentityScopes.OPENID))
            beside.put(
                    "id_token",
                    MintIdToken.mint(
                            grant, person, entitled.scopeNames(), minted, asked.issuer(), client, asked.now()));
        return new Ready(grant, entitled, refreshToken, minted.beside(beside));
    }

    /** That the authorization goes on, and the person is there. */
    private Checked<Person> present(AuthorizationGrant grant, Instant now) {
        Fix again = Fix.of("Have the person sign in again.");
        if (grant.isOverAt(now))
            return Checked.refused(
                    "grant",
                    Reason.SIGN_IN_ENDED,
                    "an authorization that goes on",
                    grant.endedAt().isPresent() ? "one that was ended" : "one that expired",
                    again);
        if (grant.sessionId()
                .filter(session -> sessions.find(session, now).isEmpty())
                .isPresent())
            return Checked.refused(
                    "session",
                    Reason.SIGN_IN_ENDED,
                    "a person who is still signed in, or offline_access",
                    "one who signed out",
                    again);
        Optional<Person> person = people.find(grant.personId());
        if (person.filter(Person::enabled).isEmpty())
            return Checked.refused(
                    "person",
                    Reason.PERSON_SWITCHED_OFF,
                    "a person who may sign in",
                    "one who may not",
                    person.map(it -> Fix.of("Have them switched on.", Action.of("person", "on", it.email()))
                                    .by("an administrator"))
                            .orElse(again));
        return Checked.passed(
                person.get(),
                CheckResult.passed(
                        "person",
                        "a person who may sign in, and an authorization that goes on",
                        person.get().email()));
    }

    private static Checked<Api> chooseApi(AuthorizationGrant grant, List<String> wanted, CompiledIssuer issuer) {
        if (wanted.stream().distinct().count() > 1)
            return Checked.refused(
                    "resource",
                    Reason.RESOURCE_NOT_GRANTED,
                    "one resource",
                    wanted.size() + " of them",
                    Fix.of("Request a token for each in turn."));
        String audience = wanted.isEmpty() ? grant.resources().getFirst() : wanted.getFirst();
        Optional<Api> api = grant.resources().contains(audience) ? issuer.forAudience(audience) : Optional.empty();
        return api.map(Checked::passed)
                .orElseGet(() -> Checked.refused(
                        "resource",
                        Reason.RESOURCE_NOT_GRANTED,
                        "one of " + String.join(", ", grant.resources()),
                        Fields.quoted(audience),
                        Fix.of("Name a resource that the authorization request named.")));
    }

    /** RFC 6749 §6: never more than was given at first. */
    private static Checked<List<String>> requested(AuthorizationGrant grant, Wanted wanted) {
        List<String> requested =
                wanted.scope().map(text -> List.of(text.strip().split(" +"))).orElse(grant.scopes());
        return requested.stream()
                .filter(name -> !grant.scopes().contains(name))
                .findFirst()
                .<Checked<List<String>>>map(more -> Checked.refused(
                        "scope",
                        Reason.SCOPE_NOT_GRANTED,
                        "scopes among " + String.join(" ", grant.scopes()),
                        Fields.quoted(more),
                        Fix.of("Send another authorization request for more.")))
                .orElseGet(() -> Checked.passed(
                        requested,
                        CheckResult.passed(
                                "requested", "of " + String.join(" ", grant.scopes()), String.join(" ", requested))));
    }

    /** What of it is approved now, and the person's to give now; what is not is left out. */
    private Checked<EffectiveRights> rights(List<String> requested, Person person, Redemption asked) {
        KnownClient client = asked.client();
        EffectiveRights rights = EffectiveRights.of(
                requested,
                asked.issuer(),
                client,
                person,
                personal.of(person.id(), client.client().id()),
                asked.now());
        List<String> notApproved = new ArrayList<>(rights.toApprove());
        notApproved.addAll(rights.forAdministrator());
        return new Checked.Passed<>(
                rights,
                List.of(
                        CheckResult.passed("approved", "approved for everyone, or by the person", allBut(notApproved)),
                        CheckResult.passed(
                                "person-may",
                                "what the person may do, by role or because it is open to all",
                                allBut(rights.notTheirs()))));
    }

    private static String allBut(List<String> missing) {
        return missing.isEmpty() ? "all of it" : "no longer " + String.join(" ", missing);
    }

    private static Checked<GrantedScopes> granted(EffectiveRights rights, Api api, CompiledIssuer issuer) {
        List<String> names = new ArrayList<>(rights.identity());
        if (!api.audience().equals(issuer.admin().audience())) names.remove(AdminApi.RUN); // for the admin API alone
        rights.granted().stream()
                .filter(scope -> scope.apiId().equals(api.id()))
                .map(Scope::name)
                .forEach(names::add);
        return names.isEmpty()
                ? Checked.refused(
                        "scope",
                        Reason.NO_SCOPE_LEFT,
                        "a scope of %s that is approved and that the person may use".formatted(api.audience()),
                        "none",
                        Fix.of("Name another resource, or have the person sign in again to approve."))
                : Checked.passed(new GrantedScopes(api, names, rights.until()));
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
}
