package dev.admit.core.grant;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.JWSObject;
import com.nimbusds.jose.crypto.ECDSASigner;
import com.nimbusds.jose.crypto.MACSigner;
import com.nimbusds.jose.jwk.Curve;
import com.nimbusds.jose.jwk.ECKey;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.gen.ECKeyGenerator;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.SignedJWT;
import dev.admit.core.approval.Approval;
import dev.admit.core.audit.TokenEvents;
import dev.admit.core.change.Actor;
import dev.admit.core.clientauth.AuthenticateClient;
import dev.admit.core.clientauth.ClientKeys;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.clientauth.SecretUses;
import dev.admit.core.clientauth.SlowedGuessing;
import dev.admit.core.clientauth.UsedAssertions;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.configuration.StoredConfiguration;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Recorder;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.key.SigningKey;
import dev.admit.core.key.SigningKeys;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.IssuerSettings;
import dev.admit.core.registry.Minting;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.token.MintingOrder;
import dev.admit.core.token.OpaqueToken;
import dev.admit.core.token.OpaqueTokens;
import dev.admit.core.token.Revocations;
import dev.admit.core.token.TokenIds;
import dev.admit.core.tries.Strangers;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Date;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The token endpoint's matrix: many ways to be refused, each for its own reason, and a few to be granted. */
class IssueTokenTest {
    private static final Instant NOW = Instant.parse("2026-06-01T12:00:00.750Z");
    private static final String SECRET = "s:e+c%r et";
    private static final MasterKey MASTER = new MasterKey(MasterKey.generate());
    private static final SigningKey KEY = SigningKey.generate(SigningAlgorithm.ES256);

    private final List<Approval> approvals = new ArrayList<>();
    private final List<ClientSecret> secrets = new ArrayList<>();
    private final InMemory opaque = new InMemory();
    private final SlowedGuessing guessing = new SlowedGuessing();
    private ClientKind kind = ClientKind.MACHINE;
    private String jwks;
    private Minting minting = Minting.USUAL;
    private boolean enabled = true;
    private ClientAuthMethod method = ClientAuthMethod.CLIENT_SECRET_BASIC;
    private LiveConfiguration configuration;
    private IssueToken issueToken;
    private Recorder decision;

    @BeforeEach
    void harbour() {
        approvals.clear();
        secrets.clear();
        StoredConfiguration kept = new StoredConfiguration(
                List.of(
                        new Issuer(
                                "iss_h",
                                "harbour",
                                "Harbour",
                                "",
                                URI.create("https://h.example/harbour"),
                                IssuerSettings.USUAL,
                                0,
                                1,
                                NOW),
                        new Issuer(
                                "iss_g",
                                "gullwing",
                                "Gullwing",
                                "",
                                URI.create("https://h.example/gullwing"),
                                IssuerSettings.USUAL,
                                0,
                                1,
                                NOW)),
                List.of(api("tides"), api("berths")),
                List.of(
                        scope("tides.read", "tides", Scope.Status.IN_USE, null),
                        scope("tides.publish", "tides", Scope.Status.IN_USE, null),
                        scope("tides.draft", "tides", Scope.Status.DRAFT, null),
                        scope("tides.closing", "tides", Scope.Status.CLOSING, NOW.plusSeconds(100)),
                        scope("tides.closed", "tides", Scope.Status.CLOSING, NOW.minusSeconds(1)),
                        scope("berths.read", "berths", Scope.Status.IN_USE, null)),
                List.of(),
                List.of(kept("iss_h"), kept("iss_g")),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of());
        configuration = new LiveConfiguration(() -> kept, MASTER, new Revocations(), null, null, client -> true);
        configuration.republish();
        secrets.add(new ClientSecret(
                "sec_1",
                "cl_buoy",
                "first",
                SecretHash.of(SECRET),
                NOW,
                Optional.of(NOW.plusSeconds(1000)),
                Optional.empty()));
        KnownClients clients = new KnownClients(
                id -> id.equals("cl_buoy")
                        ? Optional.of(new KnownClient(client(id), secrets, approvals))
                        : Optional.empty(),
                new Strangers(),
                10);
        issueToken = new IssueToken(
                new AuthenticateClient(
                        clients,
                        new ClientKeys(address -> Optional.empty()),
                        new OnceOnly(),
                        new SecretUses(null),
                        guessing),
                new MintingOrder(new TokenIds(Clock.fixed(NOW, ZoneOffset.UTC), 0)),
                opaque,
                new TokenEvents(null),
                null,
                null,
                null);
        for (String scope : List.of("tides.read", "tides.draft", "tides.closing", "tides.closed"))
            approvals.add(approval(scope, Approval.Status.GRANTED, null));
        approvals.add(approval("tides.publish", Approval.Status.WAITING, null));
    }

    private Client client(String id) {
        return new Client(
                id,
                "iss_h",
                "tide-buoy-07",
                kind,
                new Client.Texts("Buoy", "", List.of("Corin Ashby"), List.of(), List.of("north", "night-shift")),
                proof(),
                Client.Addresses.NONE,
                Optional.empty(),
                List.of(),
                Client.People.USUAL,
                enabled,
                1,
                NOW);
    }

    private Client.Proof proof() {
        return jwks == null
                ? Client.Proof.by(method)
                : new Client.Proof(method, Optional.of(jwks), Optional.empty(), Optional.empty());
    }

    /** What the records do, without them. */
    private static final class OnceOnly implements UsedAssertions {
        private final Set<String> claimed = new HashSet<>();

        @Override
        public boolean claim(String clientId, String jti, Instant until) {
            return claimed.add(clientId + jti);
        }

        @Override
        public int drop(Instant now) {
            return 0;
        }
    }

    private static final class InMemory implements OpaqueTokens {
        private final Map<SecretHash, OpaqueToken> kept = new HashMap<>();

        @Override
        public void insert(OpaqueToken token) {
            kept.put(token.hash(), token);
        }

        @Override
        public Optional<OpaqueToken> find(SecretHash hash) {
            return Optional.ofNullable(kept.get(hash));
        }

        @Override
        public int drop(Instant now) {
            return 0;
        }
    }

    private static SigningKeys.Stored kept(String issuer) {
        return new SigningKeys.Stored(
                KEY.kid(),
                issuer,
                SigningKeys.Purpose.ACCESS_TOKEN,
                KEY.algorithm().getName(),
                KEY.sealWith(MASTER),
                Instant.EPOCH,
                Instant.EPOCH,
                false,
                Optional.empty());
    }

    private Api api(String name) {
        return new Api(
                "api_" + name,
                "iss_h",
                name,
                name,
                "https://" + name + ".example",
                Optional.empty(),
                minting,
                List.of("tides.read"),
                false,
                1,
                NOW);
    }

    private static Scope scope(String name, String api, Scope.Status status, Instant closes) {
        return new Scope(
                "sc_" + name,
                "iss_h",
                "api_" + api,
                name,
                Scope.Effect.READS,
                Scope.Reach.EVERYONE,
                Scope.For.CLIENTS,
                "words",
                Scope.Approver.ADMINISTRATOR,
                false,
                status,
                Optional.ofNullable(closes),
                true,
                Optional.empty(),
                1);
    }

    private static Approval approval(String scope, Approval.Status status, Instant until) {
        return new Approval(
                "ap_" + scope,
                "iss_h",
                "cl_buoy",
                "sc_" + scope,
                scope,
                status,
                NOW,
                "x",
                Optional.empty(),
                Optional.empty(),
                Optional.ofNullable(until),
                "",
                false,
                false,
                1);
    }

    private static String basic(String id, String secret) {
        String pair =
                URLEncoder.encode(id, StandardCharsets.UTF_8) + ":" + URLEncoder.encode(secret, StandardCharsets.UTF_8);
        return "Basic " + Base64.getEncoder().encodeToString(pair.getBytes(StandardCharsets.UTF_8));
    }

    private GrantOutcome send(String issuer, List<String> authorization, String form) {
        decision = new Recorder(Endpoint.TOKEN, NOW);
        return issueToken.issue(
                new FormRequest(
                        "POST",
                        "application/x-www-form-urlencoded",
                        authorization,
                        "",
                        form.getBytes(StandardCharsets.UTF_8),
                        "127.0.0.1",
                        false),
                configuration.get().issuer(issuer).orElseThrow(),
                decision);
    }

    private String verdict(String form) {
        return verdict(send("harbour", List.of(basic("cl_buoy", SECRET)), form));
    }

    private static String verdict(GrantOutcome outcome) {
        return switch (outcome) {
            case GrantOutcome.Issued issued -> "issued " + issued.scope();
            case GrantOutcome.Refused refused ->
                refused.refusal().reason().error() + " " + refused.refusal().reason();
        };
    }

    /** As a caller may have found the client, before something was taken from it. */
    private KnownClient foundBefore() {
        return new KnownClient(client("cl_buoy"), List.copyOf(secrets), List.copyOf(approvals));
    }

    private String trial(Map<String, String> form, KnownClient found) {
        decision = new Recorder(Endpoint.TOKEN, NOW);
        Actor operator = new Actor("pe_corin", "Corin Ashby", "127.0.0.1", Actor.Power.OPERATOR);
        return verdict(issueToken.issueTrial(
                new Trial(operator),
                FormParameters.of(form),
                found,
                configuration.get().issuer("harbour").orElseThrow(),
                decision));
    }

    private String gatewayAsks(KnownClient found) {
        decision = new Recorder(Endpoint.TOKEN, NOW);
        return verdict(issueToken.issueToGateway(
                FormParameters.of(Map.of("grant_type", "client_credentials", "scope", "tides.read")),
                found,
                configuration.get().issuer("harbour").orElseThrow(),
                decision));
    }

    @Test
    void anOperatorsTrialIsWhatTheClientWouldGetForTwoMinutes() {
        assertThat(trial(Map.of("scope", "tides.read"), foundBefore())).isEqualTo("issued tides.read");
        assertThat(trial(Map.of("scope", "tides.publish"), foundBefore())).endsWith("scope-not-approved");
        assertThat(gatewayAsks(foundBefore())).isEqualTo("issued tides.read");
    }

    /** What the token leans on is read after its id was drawn, or a withdrawal in between would not end it. */
    @Test
    void whatTheCallerFoundBeforeIsNotWhatIsLookedAt() {
        KnownClient before = foundBefore();
        approvals.clear();
        assertThat(trial(Map.of("scope", "tides.read"), before)).startsWith("invalid_scope");
        assertThat(gatewayAsks(before)).startsWith("invalid_scope");
    }

    @Test
    void aClientThatIsOffGetsNothingInWhoeversNameItIsAsked() {
        KnownClient before = foundBefore();
        enabled = false;
        assertThat(trial(Map.of("scope", "tides.read"), before)).endsWith("client-switched-off");
        assertThat(gatewayAsks(before)).endsWith("client-switched-off");
    }

    @Test
    void aClientThatActsForPeopleAloneIsTriedWithAPerson() {
        kind = ClientKind.BROWSER;
        method = ClientAuthMethod.NONE;
        assertThat(trial(Map.of("scope", "tides.read"), foundBefore())).endsWith("grant-not-allowed");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(delimiter = '|', textBlock = """
            grant_type=client_credentials                                                             | issued \
            tides.read
            grant_type=client_credentials&scope=                                                      | issued \
            tides.read
            grant_type=client_credentials&scope=tides.read                                            | issued \
            tides.read
            grant_type=client_credentials&scope=tides.read+tides.read                                 | issued \
            tides.read
            grant_type=client_credentials&resource=https://tides.example                              | issued \
            tides.read
            grant_type=client_credentials&resource=https://tides.example&resource=https://tides.example | issued \
            tides.read
            grant_type=client_credentials&unknown=1                                                   | issued \
            tides.read
            grant_type=client_credentials&scope=tides.closing                                         | issued \
            tides.closing
            scope=tides.read                                                                          | \
            invalid_request malformed-request
            grant_type=client_credentials&grant_type=client_credentials                               | \
            invalid_request repeated-parameter
            grant_type=client_credentials&scope=a&scope=b                                             | \
            invalid_request repeated-parameter
            grant_type=%ff                                                                            | \
            invalid_request malformed-request
            grant_type=%zz                                                                            | \
            invalid_request malformed-request
            grant_type=client_credentials%00                                                          | \
            invalid_request malformed-request
            grant_type=password&username=a&password=b                                                 | \
            unsupported_grant_type unknown-grant
            grant_type=implicit                                                                       | \
            unsupported_grant_type unknown-grant
            grant_type=client_credentials&scope=nope                                                  | invalid_scope \
            unknown-scope
            grant_type=client_credentials&scope=%22                                                   | invalid_scope \
            malformed-scope
            grant_type=client_credentials&scope=TIDES.READ                                            | invalid_scope \
            unknown-scope
            grant_type=client_credentials&scope=tides.publish                                         | invalid_scope \
            scope-not-approved
            grant_type=client_credentials&scope=tides.read+tides.publish                              | invalid_scope \
            scope-not-approved
            grant_type=client_credentials&scope=berths.read                                           | invalid_scope \
            scope-not-requested
            grant_type=client_credentials&scope=tides.draft                                           | invalid_scope \
            scope-not-in-use
            grant_type=client_credentials&scope=tides.closed                                          | invalid_scope \
            scope-not-in-use
            grant_type=client_credentials&scope=tides.read+berths.read                                | invalid_scope \
            several-apis
            grant_type=client_credentials&resource=https://nope.example                               | \
            invalid_target unknown-resource
            grant_type=client_credentials&resource=https://tides.example/                             | \
            invalid_target unknown-resource
            grant_type=client_credentials&resource=https://tides.example&resource=https://berths.example | \
            invalid_target unknown-resource
            grant_type=client_credentials&resource=https://berths.example&scope=tides.read            | \
            invalid_target scope-of-another-api
            grant_type=client_credentials&resource=https://berths.example                             | invalid_scope \
            no-default-scope""")
    void eachRequestHasItsAnswer(String form, String expected) {
        assertThat(verdict(form)).isEqualTo(expected);
    }

    @Test
    void credentialsSurviveFormEncodingInsideBasic() {
        assertThat(verdict("grant_type=client_credentials")).startsWith("issued");
        String unencoded =
                "Basic " + Base64.getEncoder().encodeToString(("cl_buoy:" + SECRET).getBytes(StandardCharsets.UTF_8));
        assertThat(verdict(send("harbour", List.of(unencoded), "grant_type=client_credentials")))
                .isEqualTo("invalid_client client-not-authenticated");
    }

    @Test
    void unknownClientAndWrongSecretGetTheSameSentence() {
        GrantOutcome.Refused unknown = (GrantOutcome.Refused)
                send("harbour", List.of(basic("cl_nobody", SECRET)), "grant_type=client_credentials");
        GrantOutcome.Refused wrong = (GrantOutcome.Refused)
                send("harbour", List.of(basic("cl_buoy", "wrong")), "grant_type=client_credentials");
        assertThat(wrong).isEqualTo(unknown);
        assertThat(wrong.refusal().reason().status()).isEqualTo(401);
    }

    @Test
    void aClientOfAnotherIssuerIsUnknown() {
        assertThat(verdict(send("gullwing", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials")))
                .isEqualTo("invalid_client client-not-authenticated");
    }

    @Test
    void onlyTheRegisteredMethodAuthenticates() {
        String form = "grant_type=client_credentials&client_id=cl_buoy&client_secret="
                + URLEncoder.encode(SECRET, StandardCharsets.UTF_8);
        assertThat(verdict(send("harbour", List.of(), form))).isEqualTo("invalid_client wrong-authentication-method");
        assertThat(verdict(send("harbour", List.of(), form + "x")))
                .as("the method is told only to who has the secret")
                .isEqualTo("invalid_client client-not-authenticated");
    }

    @Test
    void formCredentialsWorkForAClientRegisteredSo() {
        method = ClientAuthMethod.CLIENT_SECRET_POST;
        String form = "grant_type=client_credentials&client_id=cl_buoy&client_secret="
                + URLEncoder.encode(SECRET, StandardCharsets.UTF_8);
        assertThat(verdict(send("harbour", List.of(), form))).isEqualTo("issued tides.read");
    }

    @Test
    void twoWaysAtOnceAreRefused() {
        assertThat(verdict(send(
                        "harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials&client_secret=x")))
                .isEqualTo("invalid_request two-authentications");
        assertThat(verdict(send(
                        "harbour",
                        List.of(basic("cl_buoy", SECRET), basic("cl_buoy", SECRET)),
                        "grant_type=client_credentials")))
                .isEqualTo("invalid_request two-authentications");
        assertThat(verdict(send(
                        "harbour",
                        List.of(basic("cl_buoy", SECRET)),
                        "grant_type=client_credentials&client_id=cl_other")))
                .isEqualTo("invalid_request two-authentications");
    }

    @ParameterizedTest
    @CsvSource({"Basic !!!", "Basic", "'Basic eA=='", "Basic //79"})
    void unreadableBasicIsRefusedWithoutQuotingIt(String header) {
        GrantOutcome.Refused refused =
                (GrantOutcome.Refused) send("harbour", List.of(header), "grant_type=client_credentials");
        assertThat(refused.refusal().reason()).hasToString("client-not-authenticated");
        assertThat(refused.refusal().sentence())
                .doesNotContain(
                        header.substring(5).strip().isEmpty()
                                ? "\u0000"
                                : header.substring(5).strip());
    }

    @Test
    void aSecretThatRanOutIsToldToWhoHasIt() {
        secrets.set(
                0,
                new ClientSecret(
                        "sec_1", "cl_buoy", "first", SecretHash.of(SECRET), NOW, Optional.of(NOW), Optional.empty()));
        assertThat(verdict("grant_type=client_credentials")).isEqualTo("invalid_client secret-expired");
        secrets.add(new ClientSecret(
                "sec_2",
                "cl_buoy",
                "second",
                SecretHash.of("other"),
                NOW,
                Optional.of(NOW.plusSeconds(5)),
                Optional.empty()));
        assertThat(verdict(send("harbour", List.of(basic("cl_buoy", "other")), "grant_type=client_credentials")))
                .isEqualTo("issued tides.read");
    }

    @Test
    void aClientThatIsOffIsToldSoOnlyWithItsSecret() {
        enabled = false;
        assertThat(verdict("grant_type=client_credentials")).isEqualTo("invalid_client client-switched-off");
        assertThat(verdict(send("harbour", List.of(basic("cl_buoy", "wrong")), "grant_type=client_credentials")))
                .isEqualTo("invalid_client client-not-authenticated");
    }

    @Test
    void aTokenNeverOutlivesTheApprovalOrTheScopeItLeansOn() throws Exception {
        approvals.set(0, approval("tides.read", Approval.Status.GRANTED, NOW.plusSeconds(60)));
        assertThat(((GrantOutcome.Issued)
                                send("harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials"))
                        .lifetime())
                .isLessThanOrEqualTo(61);
        GrantOutcome.Issued closing = (GrantOutcome.Issued)
                send("harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials&scope=tides.closing");
        Map<String, Object> claims =
                JWSObject.parse(closing.accessToken()).getPayload().toJSONObject();
        assertThat((Long) claims.get("exp"))
                .isLessThanOrEqualTo(NOW.plusSeconds(100).getEpochSecond());
        approvals.set(0, approval("tides.read", Approval.Status.GRANTED, NOW));
        assertThat(verdict("grant_type=client_credentials&scope=tides.read"))
                .isEqualTo("invalid_scope scope-not-approved");
    }

    @Test
    void aMintedTokenSaysWhatTheProfileWants() throws Exception {
        GrantOutcome.Issued issued = (GrantOutcome.Issued)
                send("harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials");
        JWSObject token = JWSObject.parse(issued.accessToken());
        assertThat(token.getHeader().getType()).hasToString("at+jwt");
        assertThat(token.getHeader().getAlgorithm()).hasToString("ES256");
        assertThat(token.getHeader().getKeyID()).isEqualTo(KEY.kid());
        assertThat(token.getPayload().toJSONObject())
                .containsEntry("iss", "https://h.example/harbour")
                .containsEntry("sub", "cl_buoy")
                .containsEntry("client_id", "cl_buoy")
                .containsEntry("aud", "https://tides.example")
                .containsEntry("scope", "tides.read")
                .containsEntry("iat", NOW.getEpochSecond())
                .containsEntry("exp", NOW.getEpochSecond() + 900)
                .containsKey("jti");
        assertThat(issued.lifetime()).isEqualTo(900);
        assertThat(issued.toString()).doesNotContain(issued.accessToken());
    }

    @Test
    void theDecisionListsTheChecksInOrder() {
        verdict("grant_type=client_credentials&scope=tides.publish");
        Decision made = decision.answered(400);
        assertThat(made.checks())
                .extracting(CheckResult::check)
                .containsExactly("form", "client-authentication", "grant", "resource", "approval");
        assertThat(made.about().clientName()).isEqualTo("tide-buoy-07");
        assertThat(made.refusal().orElseThrow().fix().command())
                .hasValue("admit approval grant tide-buoy-07 tides.publish");
        assertThat(made.refusal().orElseThrow().fix().who()).hasValue("an administrator");
    }

    @Test
    void descriptionsHoldOnlyWhatTheStandardAllows() {
        GrantOutcome.Refused refused =
                (GrantOutcome.Refused) send("harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=a%22b%5Cc%C3%A9");
        assertThat(refused.refusal().description()).matches("[\\x20-\\x21\\x23-\\x5B\\x5D-\\x7E]+");
    }

    // Assertions.

    private static final ECKey CLIENTS = key("k1");

    private static ECKey key(String kid) {
        try {
            return new ECKeyGenerator(Curve.P_256)
                    .keyID(kid)
                    .algorithm(JWSAlgorithm.ES256)
                    .generate();
        } catch (JOSEException broken) {
            throw new AssertionError(broken);
        }
    }

    private String assertion(ECKey with, JWSHeader header, Consumer<JWTClaimsSet.Builder> change) throws JOSEException {
        method = ClientAuthMethod.PRIVATE_KEY_JWT;
        jwks = new JWKSet(CLIENTS).toString(true);
        harbour();
        JWTClaimsSet.Builder claims = new JWTClaimsSet.Builder()
                .issuer("cl_buoy")
                .subject("cl_buoy")
                .audience("https://h.example/harbour")
                .jwtID("one")
                .expirationTime(Date.from(NOW.plusSeconds(60)))
                .issueTime(Date.from(NOW));
        change.accept(claims);
        SignedJWT jwt = new SignedJWT(header, claims.build());
        jwt.sign(new ECDSASigner(with));
        return jwt.serialize();
    }

    private static JWSHeader header(String kid) {
        return new JWSHeader.Builder(JWSAlgorithm.ES256).keyID(kid).build();
    }

    private String proven(String assertion) {
        return verdict(send(
                "harbour",
                List.of(),
                "grant_type=client_credentials&"
                        + "client_assertion_type=urn%3Aietf%3Aparams%3Aoauth%3Aclient-assertion-type%3Ajwt-bearer&cl"
                        + "ient_assertion="
                        + assertion));
    }

    @Test
    void anAssertionProvesAClientOnceAndOnlyWhenEverythingFits() throws Exception {
        String good = assertion(CLIENTS, header("k1"), claims -> {});
        assertThat(proven(good)).isEqualTo("issued tides.read");
        assertThat(proven(good)).isEqualTo("invalid_client assertion-used-twice");
        Map<String, Consumer<JWTClaimsSet.Builder>> unusable = Map.of(
                "iss",
                claims -> claims.issuer("cl_other"),
                "aud",
                claims -> claims.audience("https://h.example/gullwing"),
                "no aud",
                claims -> claims.audience((String) null),
                "over",
                claims -> claims.expirationTime(Date.from(NOW.minusSeconds(31))),
                "no exp",
                claims -> claims.expirationTime(null),
                "far exp",
                claims -> claims.expirationTime(Date.from(NOW.plusSeconds(3700))),
                "future",
                claims -> claims.notBeforeTime(Date.from(NOW.plusSeconds(60))),
                "no jti",
                claims -> claims.jwtID(null),
                "long jti",
                claims -> claims.jwtID("x".repeat(201)));
        for (var one : unusable.entrySet())
            assertThat(proven(assertion(CLIENTS, header("k1"), one.getValue())))
                    .as(one.getKey())
                    .isEqualTo("invalid_client assertion-unusable");
        assertThat(proven(assertion(CLIENTS, header("k1"), claims -> claims.audience(
                                List.of("https://elsewhere.example", "https://h.example/harbour/token"))
                        .jwtID("two"))))
                .startsWith("issued");
        assertThat(proven(assertion(CLIENTS, new JWSHeader(JWSAlgorithm.ES256), claims -> claims.jwtID("three"))))
                .as("without a key id every key is tried")
                .startsWith("issued");
        assertThat(proven(assertion(key("k1"), header("k1"), claims -> {})))
                .as("another's key")
                .isEqualTo("invalid_client client-not-authenticated");
        assertThat(proven(assertion(CLIENTS, header("k2"), claims -> {})))
                .as("an unknown key id")
                .isEqualTo("invalid_client client-not-authenticated");
        assertThat(proven(assertion(CLIENTS, header("k1"), claims -> claims.subject("cl_nobody")
                        .issuer("cl_nobody"))))
                .isEqualTo("invalid_client client-not-authenticated");
        assertThat(proven(assertion(
                        CLIENTS,
                        new JWSHeader.Builder(JWSAlgorithm.ES256)
                                .keyID("k1")
                                .criticalParams(Set.of("x"))
                                .customParam("x", 1)
                                .build(),
                        claims -> {})))
                .as("an unknown critical header")
                .isEqualTo("invalid_client client-not-authenticated");
        assertThat(proven("a.b.c")).isEqualTo("invalid_client client-not-authenticated");
        assertThat(proven(good + "&client_secret=x")).isEqualTo("invalid_request two-authentications");
        assertThat(proven(good + "&client_id=cl_other")).isEqualTo("invalid_client client-not-authenticated");
        assertThat(proven("")).isEqualTo("invalid_client no-client-authentication");
        // RFC 8725 §2.1: the public key must not pass for the secret of a MAC.
        assertion(CLIENTS, header("k1"), claims -> {});
        SignedJWT mac = new SignedJWT(
                new JWSHeader.Builder(JWSAlgorithm.HS256).keyID("k1").build(),
                new JWTClaimsSet.Builder()
                        .issuer("cl_buoy")
                        .subject("cl_buoy")
                        .audience("https://h.example/harbour")
                        .jwtID("mac")
                        .expirationTime(Date.from(NOW.plusSeconds(60)))
                        .build());
        mac.sign(new MACSigner(CLIENTS.toPublicJWK().toECPublicKey().getEncoded()));
        assertThat(proven(mac.serialize())).isEqualTo("invalid_client client-not-authenticated");
    }

    @Test
    void anAssertionSentFiveTimesAtOnceOpensTheDoorOnce() throws Exception {
        String good = assertion(CLIENTS, header("k1"), claims -> {});
        assertThat(java.util.stream.Stream.generate(() -> proven(good))
                        .limit(5)
                        .filter(it -> it.startsWith("issued"))
                        .count())
                .isEqualTo(1);
    }

    // Minting.

    private GrantOutcome.Issued issuedWith(Minting with) {
        minting = with;
        harbour();
        return (GrantOutcome.Issued)
                send("harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials");
    }

    private static Minting.Exempt exempt(
            String name,
            List<String> clients,
            List<String> tags,
            List<String> grants,
            Duration lifetime,
            Minting.Format format,
            String... without) {
        return new Minting.Exempt(
                name,
                clients,
                tags,
                grants,
                Optional.ofNullable(lifetime),
                Optional.ofNullable(format),
                Optional.empty(),
                Optional.empty(),
                List.of(without));
    }

    @Test
    void ofAllThatAppliesTheStrictestCountsInWhateverOrder() throws Exception {
        List<Minting.Exempt> exceptions = new ArrayList<>(List.of(
                exempt("by-tag", List.of(), List.of("north"), List.of(), Duration.ofMinutes(5), null),
                exempt("by-name", List.of("tide-buoy-07"), List.of(), List.of(), Duration.ofMinutes(7), null, "region"),
                exempt("longer", List.of(), List.of(), List.of("client_credentials"), Duration.ofHours(9), null),
                exempt(
                        "of-others",
                        List.of("old-crane"),
                        List.of(),
                        List.of(),
                        Duration.ofMinutes(1),
                        Minting.Format.OPAQUE),
                exempt(
                        "both-needed",
                        List.of("tide-buoy-07"),
                        List.of("south"),
                        List.of(),
                        Duration.ofMinutes(1),
                        null)));
        List<Minting.ExtraClaim> claims = List.of(
                new Minting.ExtraClaim("region", "client.tags[0]"),
                new Minting.ExtraClaim("many", "scopes.size() > 1"),
                new Minting.ExtraClaim("tags", "client.tags"),
                new Minting.ExtraClaim("about", "{'who': client.name, 'api': api.name}"));
        for (int order = 0; order < 3; order++) {
            java.util.Collections.rotate(exceptions, 1);
            GrantOutcome.Issued issued = issuedWith(
                    Minting.usual(Duration.ofMinutes(15), Minting.Format.JWT, claims, List.copyOf(exceptions)));
            assertThat(issued.lifetime()).isEqualTo(300);
            Map<String, Object> said =
                    SignedJWT.parse(issued.accessToken()).getJWTClaimsSet().getClaims();
            assertThat(said)
                    .doesNotContainKey("region")
                    .containsEntry("many", false)
                    .containsEntry("tags", List.of("north", "night-shift"))
                    .containsEntry("about", Map.of("who", "tide-buoy-07", "api", "tides"))
                    .containsEntry("client_id", "cl_buoy");
        }
    }

    @Test
    void anOpaqueTokenIsKeptByItsHashAndSaysNothing() {
        GrantOutcome.Issued issued =
                issuedWith(Minting.usual(Duration.ofMinutes(15), Minting.Format.OPAQUE, List.of(), List.of()));
        assertThat(issued.accessToken()).startsWith("admat_").doesNotContain(".");
        OpaqueToken kept = opaque.find(SecretHash.of(issued.accessToken())).orElseThrow();
        assertThat(kept.scopes()).containsExactly("tides.read");
        assertThat(kept.toString()).doesNotContain(issued.accessToken());
    }

    @Test
    void aClaimThatCannotBeComputedRefusesTheTokenRatherThanLeaveItOut() {
        minting = Minting.usual(
                Duration.ofMinutes(15),
                Minting.Format.JWT,
                List.of(new Minting.ExtraClaim("bad", "client.tags[9]")),
                List.of());
        harbour();
        assertThat(verdict("grant_type=client_credentials")).isEqualTo("invalid_request claim-not-computed");
    }

    // Kinds and guessing.

    @Test
    void aClientOfAKindForPeopleGetsNothingOnItsOwn() {
        kind = ClientKind.WEB;
        assertThat(verdict("grant_type=client_credentials")).isEqualTo("unauthorized_client grant-not-allowed");
        kind = ClientKind.BROWSER;
        method = ClientAuthMethod.NONE;
        harbour();
        assertThat(verdict(send("harbour", List.of(), "grant_type=client_credentials&client_id=cl_buoy")))
                .isEqualTo("unauthorized_client grant-not-allowed");
        assertThat(verdict(send("harbour", List.of(), "grant_type=client_credentials&client_id=cl_other")))
                .isEqualTo("invalid_client no-client-authentication");
    }

    @Test
    void whoGuessesWaitsLongerEachTimeAndTheRightSecretIsNeverHeldUp() {
        Duration before = Duration.ZERO;
        for (int i = 0; i < 8; i++) {
            send("harbour", List.of(basic("cl_buoy", "guess" + i)), "grant_type=client_credentials");
            Duration heldBack = decision.heldBack();
            assertThat(heldBack).isGreaterThanOrEqualTo(before).isLessThanOrEqualTo(Duration.ofSeconds(2));
            before = heldBack;
        }
        assertThat(before).isPositive();
        assertThat(verdict("grant_type=client_credentials"))
                .as("no stranger locks a client out")
                .startsWith("issued");
        for (int i = 0; i < 60; i++)
            send("harbour", List.of(basic("cl_buoy", "guess" + i)), "grant_type=client_credentials");
        assertThat(verdict(send("harbour", List.of(basic("cl_other", "x")), "grant_type=client_credentials")))
                .isEqualTo("invalid_client too-many-wrong-credentials");
        assertThat(verdict("grant_type=client_credentials"))
                .as("the right one is taken at any time")
                .startsWith("issued");
        assertThat(decision.heldBack()).isZero();
    }

    @Test
    void nothingThatHoldsASecretPrintsIt() {
        FormRequest request = new FormRequest(
                "POST",
                "",
                List.of("Basic abc"),
                "access_token=abc",
                "client_secret=abc".getBytes(StandardCharsets.UTF_8),
                "127.0.0.1",
                false);
        FormParameters form = ((FormParameters.Reading.Good)
                        FormParameters.read("client_secret=abc".getBytes(StandardCharsets.UTF_8)))
                .form();
        for (Object holder : List.of(
                request,
                form,
                new dev.admit.core.clientauth.PresentedSecret("abc"),
                SecretHash.of("abc"),
                MASTER,
                KEY,
                secrets.getFirst(),
                dev.admit.core.clientauth.PresentedClient.read(
                        List.of(),
                        new dev.admit.core.clientauth.PresentedClient.InForm(
                                Optional.of("id"), Optional.of("abc"), Optional.empty(), Optional.empty())))) {
            assertThat(holder.toString()).doesNotContain("abc").doesNotContain(SECRET);
        }
        dev.admit.core.registry.NewSecret made = dev.admit.core.registry.NewSecret.make();
        assertThat(made.toString()).doesNotContain(made.reveal());
    }
}
