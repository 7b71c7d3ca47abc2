package dev.admit.core.registration;

import dev.admit.contract.MintingView;
import dev.admit.contract.MintingWanted;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.expression.Expression;
import dev.admit.core.minting.ClaimExpression;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Minting;
import dev.admit.core.token.Lifetime;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Sets how an API's tokens are made. */
public final class MintingRegistration {
    /** What the standards give a meaning to in an access token, or will: no expression may say it. */
    private static final Set<String> RESERVED = Set.of(
            "iss",
            "sub",
            "aud",
            "exp",
            "iat",
            "nbf",
            "jti",
            "client_id",
            "scope",
            "scp",
            "auth_time",
            "acr",
            "amr",
            "sid",
            "azp",
            "cnf",
            "act",
            "may_act",
            "authorization_details",
            "active",
            "token_type",
            "username",
            "nonce",
            "typ",
            "grant");

    private static final Pattern CLAIM = Pattern.compile("[A-Za-z][A-Za-z0-9_:./-]{0,99}");
    private static final int MOST_CLAIMS = 20;
    private static final int MOST_EXCEPTIONS = 50;
    private static final int LONGEST_EXPRESSION = 1_000;
    private static final Duration LONGEST_REFRESH = Duration.ofDays(366);

    private final Transactions transactions;
    private final Apis apis;
    private final Audit audit;
    private final Republish live;

    public MintingRegistration(Transactions transactions, Apis apis, Audit audit, Republish live) {
        this.transactions = transactions;
        this.apis = apis;
        this.audit = audit;
        this.live = live;
    }

    public Change<Api> change(Issuer issuer, String named, MintingWanted wanted, Expected expected, Actor by) {
        Change<Api> change = transactions.inOne(() -> {
            Optional<Api> found = apis.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("API", named);
            Api old = found.get();
            Optional<Change<Api>> stale = expected.stale(old.version());
            if (stale.isPresent()) return stale.get();
            Fields fields = new Fields();
            Minting minting = read(fields, wanted, old.minting());
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            if (minting.equals(old.minting())) return Change.made(old, "Nothing differs from what is there.");
            Api changed = old.minting(minting);
            apis.update(changed);
            audit.changed(by, issuer.id(), "minting.changed", old.name(), old.minting(), minting);
            return new Change.Made<>(changed, fields.notes());
        });
        if (change instanceof Change.Made<Api>) live.republish();
        return change;
    }

    private static Minting read(Fields fields, MintingWanted wanted, Minting old) {
        Duration lifetime = fields.duration("/lifetime", wanted.lifetime(), old.lifetime(), Lifetime.LONGEST)
                .orElse(old.lifetime());
        Minting.Format format = fields.word("/format", wanted.format(), Minting.Format.class, old.format())
                .orElse(old.format());
        Duration refreshIdleTimeout = fields.duration(
                        "/refresh_idle_timeout", wanted.refreshIdleTimeout(), old.refreshIdleTimeout(), LONGEST_REFRESH)
                .orElse(old.refreshIdleTimeout());
        Duration maxRefreshAge = fields.duration(
                        "/max_refresh_age", wanted.maxRefreshAge(), old.maxRefreshAge(), LONGEST_REFRESH)
                .orElse(old.maxRefreshAge());
        List<Minting.ExtraClaim> claims = wanted.claims() == null ? old.claims() : readClaims(fields, wanted.claims());
        List<Minting.Exempt> exceptions = wanted.exceptions() == null
                ? old.exceptions()
                : readExceptions(fields, wanted.exceptions(), lifetime, claims);
        return new Minting(lifetime, format, claims, refreshIdleTimeout, maxRefreshAge, exceptions);
    }

    private static List<Minting.ExtraClaim> readClaims(Fields fields, List<MintingView.Claim> wanted) {
        if (wanted.size() > MOST_CLAIMS)
            fields.fault("/claims", "at most " + MOST_CLAIMS, wanted.size() + " of them", "Keep what the API reads.");
        List<Minting.ExtraClaim> claims = new ArrayList<>();
        Set<String> names = new HashSet<>();
        for (int i = 0; i < wanted.size(); i++) {
            String at = "/claims/" + i;
            String name = wanted.get(i) == null || wanted.get(i).name() == null
                    ? ""
                    : wanted.get(i).name().strip();
            String expression = wanted.get(i) == null || wanted.get(i).expression() == null
                    ? ""
                    : wanted.get(i).expression().strip();
            if (!CLAIM.matcher(name).matches() || RESERVED.contains(name) || !names.add(name)) {
                fields.fault(
                        at + "/name",
                        "the name of a claim that no standard uses and that is not there already",
                        name.isEmpty() ? "nothing" : Fields.quoted(name),
                        "Choose another.");
            }
            if (expression.isEmpty() || expression.length() > LONGEST_EXPRESSION) {
                fields.fault(
                        at + "/expression",
                        "1 to %d characters".formatted(LONGEST_EXPRESSION),
                        expression.length() + " characters",
                        "Write such as client.name.");
                continue;
            }
            try {
                ClaimExpression.read(name, expression);
                claims.add(new Minting.ExtraClaim(name, expression));
            } catch (Expression.Senseless wrong) {
                fields.fault(
                        at + "/expression",
                        "an expression in CEL over client, api, scopes, grant_type, person and now",
                        wrong.phrase(),
                        "Write such as client.tags or scopes.size() > 1.");
            }
        }
        return claims;
    }

    private static List<Minting.Exempt> readExceptions(
            Fields fields, List<MintingView.Exempt> wanted, Duration usual, List<Minting.ExtraClaim> claims) {
        if (wanted.size() > MOST_EXCEPTIONS)
            fields.fault(
                    "/exceptions",
                    "at most " + MOST_EXCEPTIONS,
                    wanted.size() + " of them",
                    "Name tags instead of clients.");
        List<Minting.Exempt> exceptions = new ArrayList<>();
        Set<String> names = new HashSet<>();
        for (int i = 0; i < wanted.size(); i++) {
            String at = "/exceptions/" + i;
            MintingView.Exempt it = wanted.get(i);
            if (it == null) {
                fields.fault(at, "an exception", "nothing", "Remove it.");
                continue;
            }
            String name = fields.name(at + "/name", it.name());
            if (!name.isEmpty() && !names.add(name))
                fields.fault(
                        at + "/name", "a name that no other exception has", Fields.quoted(name), "Choose another.");
            Optional<Duration> lifetime = it.lifetime() == null || it.lifetime().isBlank()
                    ? Optional.empty()
                    : fields.duration(at + "/lifetime", it.lifetime(), usual, Lifetime.LONGEST);
            Optional<Minting.Format> format = it.format() == null || it.format().isBlank()
                    ? Optional.empty()
                    : fields.word(at + "/format", it.format(), Minting.Format.class, null);
            List<String> clients = orNone(it.clients());
            List<String> tags = orNone(it.tags());
            List<String> grants = orNone(it.grantTypes());
            if (clients.isEmpty() && tags.isEmpty() && grants.isEmpty()) {
                fields.fault(
                        at,
                        "clients, tags or grant_types that it is for",
                        "none",
                        "Name some, or change the API's own values.");
            }
            List<String> without = orNone(it.without());
            for (int c = 0; c < without.size(); c++) {
                String claim = without.get(c);
                if (claims.stream().noneMatch(one -> one.name().equals(claim))) {
                    fields.fault(
                            at + "/without/" + c,
                            "a claim of this API's minting",
                            Fields.quoted(claim),
                            "Name one that is there, or remove it.");
                }
            }
            if (lifetime.filter(one -> one.compareTo(usual) >= 0).isPresent()) {
                fields.note("The exception %s changes no lifetime: the API's own, %s, is as strict or stricter."
                        .formatted(name, Fields.written(usual)));
            }
            exceptions.add(new Minting.Exempt(
                    name,
                    clients,
                    tags,
                    grants,
                    lifetime,
                    format,
                    readRefresh(fields, at + "/refresh_idle_timeout", it.refreshIdleTimeout()),
                    readRefresh(fields, at + "/max_refresh_age", it.maxRefreshAge()),
                    without));
        }
        return exceptions;
    }

    private static Optional<Duration> readRefresh(Fields fields, String pointer, @Nullable String wanted) {
        return wanted == null || wanted.isBlank()
                ? Optional.empty()
                : fields.duration(pointer, wanted, null, LONGEST_REFRESH);
    }

    private static List<String> orNone(@Nullable List<String> many) {
        return many == null
                ? List.of()
                : many.stream()
                        .filter(Objects::nonNull)
                        .map(String::strip)
                        .distinct()
                        .toList();
    }
}
