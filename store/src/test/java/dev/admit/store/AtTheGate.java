package dev.admit.store;

import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.JWSObject;
import com.nimbusds.jose.Payload;
import dev.admit.core.configuration.BrowserOrigins;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Recorder;
import dev.admit.core.gate.Gate;
import dev.admit.core.gate.GateOutcome;
import dev.admit.core.gate.GateRequest;
import dev.admit.core.key.SigningKey;
import dev.admit.core.limit.Counters;
import dev.admit.core.limit.Quotas;
import dev.admit.core.plan.SubscriptionsInForce;
import dev.admit.core.plan.Usage;
import dev.admit.core.token.BearerDoor;
import dev.admit.core.token.MintAccessToken;
import dev.admit.core.token.RememberedTokens;
import dev.admit.core.tries.Strangers;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A gate before a harbour's routes, and tokens to show there. */
final class AtTheGate {
    private final Harbour harbour;
    private final Clock clock;
    private final Gate gate;
    Decision last;

    AtTheGate(Harbour harbour, Clock clock) {
        this(
                harbour,
                clock,
                new Counters(),
                new Quotas(new SqliteQuotas(harbour.database)),
                new SubscriptionsInForce(new SqlitePlans(harbour.database), new SqliteSubscriptions(harbour.database)),
                new Usage(new SqliteUsage(harbour.database)));
    }

    AtTheGate(
            Harbour harbour,
            Clock clock,
            Counters counters,
            Quotas quotas,
            SubscriptionsInForce subscriptions,
            Usage usage) {
        this.harbour = harbour;
        this.clock = clock;
        this.gate = new Gate(
                harbour.configuration,
                new BearerDoor(new RememberedTokens(1_000, new SqliteOpaqueTokens(harbour.database), new Strangers())),
                new BrowserOrigins(new SqliteBrowserOrigins(harbour.database)),
                null,
                counters,
                quotas,
                subscriptions,
                usage,
                1_000_000);
    }

    /** As requests say; -1 where they do not. */
    long bodyBytes = -1;

    /** The host that requests are for. */
    String host = "127.0.0.1";

    /** @param authorization the values of the header, as they come */
    GateOutcome decide(String method, String path, String... authorization) {
        for (int look = 0; look < 3; look++) {
            Recorder decision = new Recorder(Endpoint.GATEWAY, clock.instant());
            int query = path.indexOf('?');
            GateOutcome outcome = gate.decide(
                    new GateRequest(
                            method,
                            host,
                            query < 0 ? path : path.substring(0, query),
                            query < 0 ? null : path.substring(query + 1),
                            List.of(authorization),
                            "127.0.0.1",
                            Optional.empty(),
                            Map::of,
                            () -> 100,
                            () -> bodyBytes,
                            GateRequest.Browser.NONE),
                    decision);
            last = decision.answered(200);
            if (!(outcome instanceof GateOutcome.Waits)) return outcome;
        }
        throw new AssertionError("a request that never comes to an end");
    }

    /** The reason of the refusal; {@code admitted} for none. */
    String verdict(String method, String path, String... authorization) {
        return decide(method, path, authorization) instanceof GateOutcome.Refused refused
                ? refused.refusal().reason().toString()
                : "admitted";
    }

    String verdictOn(String token) {
        return verdict("GET", "/tides/north-quay", "Bearer " + token);
    }

    CompiledIssuer issuer() {
        return harbour.configuration.get().issuer("harbour").orElseThrow();
    }

    /** What a token of this issuer says when nothing is wrong with it. */
    Map<String, Object> claims(String clientId, String... scopes) {
        Instant now = clock.instant();
        return harbour.order.minting(
                id -> new java.util.LinkedHashMap<>(MintAccessToken.claims(new MintAccessToken.Grant(
                        issuer().url(),
                        clientId,
                        harbour.tides.audience(),
                        clientId,
                        List.of(scopes),
                        now,
                        now.plusSeconds(600),
                        id,
                        Map.of(),
                        Optional.empty()))));
    }

    String token(String clientId, String... scopes) {
        return signed(claims(clientId, scopes), issuer().keys().activeAt(clock.instant()), "at+jwt");
    }

    static String signed(Map<String, Object> claims, SigningKey key, String type) {
        JWSHeader.Builder header = new JWSHeader.Builder(key.algorithm()).keyID(key.kid());
        if (type != null) header.type(new JOSEObjectType(type));
        JWSObject token = new JWSObject(header.build(), new Payload(claims));
        try {
            token.sign(key.signer());
        } catch (com.nimbusds.jose.JOSEException broken) {
            throw new AssertionError(broken);
        }
        return token.serialize();
    }
}
