package dev.admit.core.token;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

/** The revocations in force, held in memory so that each request can be checked against them. */
public final class Revocations {
    private final ConcurrentHashMap<String, OfClient> byClient = new ConcurrentHashMap<>();
    private final ConcurrentHashMap<Revocation.Meant.ForApi, Ending> byApi = new ConcurrentHashMap<>();
    private final ConcurrentHashMap<TokenId, Ending> byToken = new ConcurrentHashMap<>();
    /** By person alone, so that a token of another person costs one look. */
    private final ConcurrentHashMap<String, Map<Revocation.Meant.OfPerson, Ending>> byPerson =
            new ConcurrentHashMap<>();

    private final ConcurrentHashMap<Revocation.Meant.OfPeople, Ending> ofPeople = new ConcurrentHashMap<>();
    private final ConcurrentHashMap<String, Ending> bySession = new ConcurrentHashMap<>();
    private final ConcurrentHashMap<String, Ending> byGrant = new ConcurrentHashMap<>();

    /** What of a token says whether a revocation means it. */
    public interface Revocable {
        String issuerId();

        String clientId();

        TokenId id();

        List<String> audiences();

        List<String> scopes();

        /** Whom it acts for; the client itself where it acts for nobody. */
        String subject();

        /** Empty when it leans on none. */
        String sessionId();

        /** Empty when it is of none. */
        String grantId();
    }

    private record Ending(long before, Instant dropAt) {
        static Ending later(Ending one, Ending other) {
            return new Ending(
                    Math.max(one.before, other.before), one.dropAt.isAfter(other.dropAt) ? one.dropAt : other.dropAt);
        }
    }

    /** Immutable, so that a check sees all of a change or nothing. */
    private record OfClient(long all, Map<String, Long> byScope, Instant dropAt) {
        static final OfClient NONE = new OfClient(0, Map.of(), Instant.MIN);

        OfClient with(Optional<String> scope, long before, Instant until) {
            Instant later = until.isAfter(dropAt) ? until : dropAt;
            if (scope.isEmpty()) return new OfClient(Math.max(all, before), byScope, later);
            Map<String, Long> scopes = new HashMap<>(byScope);
            scopes.merge(scope.get(), before, Math::max);
            return new OfClient(all, Map.copyOf(scopes), later);
        }
    }

    public void add(Revocation revocation) {
        Ending ending = new Ending(revocation.before(), revocation.dropAt());
        switch (revocation.meant()) {
            case Revocation.Meant.OfClient(String clientId, Optional<String> scope) ->
                byClient.compute(clientId, (id, before) -> (before == null ? OfClient.NONE : before)
                        .with(scope, ending.before(), ending.dropAt()));
            case Revocation.Meant.ForApi api -> byApi.merge(api, ending, Ending::later);
            case Revocation.Meant.One(TokenId id) -> byToken.merge(id, ending, Ending::later);
            case Revocation.Meant.OfPerson person ->
                byPerson.compute(person.personId(), (id, before) -> {
                    Map<Revocation.Meant.OfPerson, Ending> all = new HashMap<>(before == null ? Map.of() : before);
                    all.merge(person, ending, Ending::later);
                    return Map.copyOf(all);
                });
            case Revocation.Meant.OfPeople people -> ofPeople.merge(people, ending, Ending::later);
            case Revocation.Meant.OfSession(String sessionId) -> bySession.merge(sessionId, ending, Ending::later);
            case Revocation.Meant.OfGrant(String grantId) -> byGrant.merge(grantId, ending, Ending::later);
        }
    }

    /** What ends this token, as a phrase; empty while it holds. */
    public Optional<String> ending(Revocable token) {
        if (!byToken.isEmpty() && byToken.containsKey(token.id())) return Optional.of("this very one was revoked");
        if (!byApi.isEmpty()) {
            for (String audience : token.audiences()) {
                Ending ended = byApi.get(new Revocation.Meant.ForApi(token.issuerId(), audience));
                if (ended != null && token.id().order() < ended.before())
                    return Optional.of("everything given for this API before was revoked");
            }
        }
        if (!token.subject().equals(token.clientId())) {
            Optional<String> ofPerson = endingOfPerson(token);
            if (ofPerson.isPresent()) return ofPerson;
        }
        OfClient ended = byClient.get(token.clientId());
        if (ended == null) return Optional.empty();
        if (token.id().order() < ended.all()) return Optional.of("everything given to this client before was revoked");
        for (String scope : token.scopes()) {
            Long before = ended.byScope().get(scope);
            if (before != null && token.id().order() < before)
                return Optional.of("the approval of " + scope + " was withdrawn after it was minted");
        }
        return Optional.empty();
    }

    private Optional<String> endingOfPerson(Revocable token) {
        if (isEnded(bySession.get(token.sessionId()), token))
            return Optional.of("the person signed out, or was signed out, after it was minted");
        if (isEnded(byGrant.get(token.grantId()), token))
            return Optional.of(
                    "what one sign-in led to was ended: by the client, the person, or because a code or refresh "
                            + "token was used twice");
        for (Map.Entry<Revocation.Meant.OfPerson, Ending> one :
                byPerson.getOrDefault(token.subject(), Map.of()).entrySet()) {
            Revocation.Meant.OfPerson meant = one.getKey();
            boolean itsClient =
                    meant.clientId().isEmpty() || meant.clientId().get().equals(token.clientId());
            boolean itsScope = meant.scope().isEmpty()
                    || token.scopes().contains(meant.scope().get());
            if (itsClient && itsScope && isEnded(one.getValue(), token)) {
                return Optional.of(meant.scope()
                        .map(scope -> "the person may no longer, or no longer wants to, give " + scope)
                        .orElse("the person was switched off, or withdrew what was granted"));
            }
        }
        if (!ofPeople.isEmpty()) {
            for (String scope : token.scopes()) {
                if (isEnded(ofPeople.get(new Revocation.Meant.OfPeople(token.issuerId(), scope)), token))
                    return Optional.of("the roles that give " + scope + " were changed after it was minted");
            }
        }
        return Optional.empty();
    }

    private static boolean isEnded(@Nullable Ending ended, Revocable token) {
        return ended != null && token.id().order() < ended.before();
    }

    /** Lets go of what no living token can be meant by any more. */
    public void drop(Instant now) {
        byClient.values().removeIf(ended -> ended.dropAt().isBefore(now));
        byApi.values().removeIf(ended -> ended.dropAt().isBefore(now));
        byToken.values().removeIf(ended -> ended.dropAt().isBefore(now));
        ofPeople.values().removeIf(ended -> ended.dropAt().isBefore(now));
        bySession.values().removeIf(ended -> ended.dropAt().isBefore(now));
        byGrant.values().removeIf(ended -> ended.dropAt().isBefore(now));
        byPerson.values().removeIf(ended -> ended.values().stream()
                .allMatch(one -> one.dropAt().isBefore(now)));
    }
}
