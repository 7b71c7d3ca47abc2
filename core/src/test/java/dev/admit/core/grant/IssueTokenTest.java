package dev.admit.core.grant;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.JWSObject;
import dev.admit.core.approval.Approval;
import dev.admit.core.audit.TokenEvents;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.Kept;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Plane;
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
import dev.admit.core.registry.IssuerRules;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.token.MintingOrder;
import dev.admit.core.token.Revocations;
import dev.admit.core.token.TokenIds;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
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
    private boolean enabled = true;
    private ClientAuthMethod method = ClientAuthMethod.CLIENT_SECRET_BASIC;
    private LiveConfiguration configuration;
    private IssueToken issueToken;
    private Decision.Builder decision;

    @BeforeEach void harbour() {
        Kept kept = new Kept(List.of(new Issuer("iss_h", "harbour", "Harbour", "", URI.create("https://h.example/harbour"), IssuerRules.USUAL, 0, 1, NOW),
                        new Issuer("iss_g", "gullwing", "Gullwing", "", URI.create("https://h.example/gullwing"), IssuerRules.USUAL, 0, 1, NOW)),
                List.of(api("tides"), api("berths")),
                List.of(scope("tides.read", "tides", Scope.Life.IN_USE, null, true), scope("tides.publish", "tides", Scope.Life.IN_USE, null, false),
                        scope("tides.draft", "tides", Scope.Life.DRAFT, null, false),
                        scope("tides.closing", "tides", Scope.Life.CLOSING, NOW.plusSeconds(100), false),
                        scope("tides.closed", "tides", Scope.Life.CLOSING, NOW.minusSeconds(1), false), scope("berths.read", "berths", Scope.Life.IN_USE, null, false)),
                List.of(), List.of(kept("iss_h"), kept("iss_g")));
        configuration = new LiveConfiguration(() -> kept, MASTER, new Revocations());
        configuration.republish();
        secrets.add(new ClientSecret("sec_1", "cl_buoy", "first", SecretHash.of(SECRET), NOW, NOW.plusSeconds(1000)));
        issueToken = new IssueToken(new KnownClients(id -> id.equals("cl_buoy")
                ? Optional.of(new KnownClient(new Client(id, "iss_h", "tide-buoy-07", "Buoy", ClientKind.SERVICE, method, "", enabled, 1, NOW), secrets, approvals))
                : Optional.empty(), 10), new MintingOrder(new TokenIds(Clock.fixed(NOW, ZoneOffset.UTC), 0)), new TokenEvents(null));
        for (String scope : List.of("tides.read", "tides.draft", "tides.closing", "tides.closed")) approvals.add(approval(scope, Approval.Status.GIVEN, null));
        approvals.add(approval("tides.publish", Approval.Status.WAITING, null));
    }

    private static SigningKeys.Kept kept(String issuer) {
        return new SigningKeys.Kept(KEY.kid(), issuer, KEY.algorithm().getName(), KEY.sealWith(MASTER), Instant.EPOCH, Instant.EPOCH, false, Optional.empty());
    }

    private static Api api(String name) {
        return new Api("api_" + name, "iss_h", name, name, "https://" + name + ".example", Optional.empty(), 1, NOW);
    }

    private static Scope scope(String name, String api, Scope.Life life, Instant closes, boolean byDefault) {
        return new Scope("sc_" + name, "iss_h", "api_" + api, name, Scope.Effect.READS, Scope.Reach.EVERYONE, Scope.Holders.CLIENTS, "words", Optional.empty(),
                Scope.Approver.ADMINISTRATOR, false, life, Optional.ofNullable(closes), byDefault, true, 1);
    }

    private static Approval approval(String scope, Approval.Status status, Instant until) {
        return new Approval("ap_" + scope, "iss_h", "cl_buoy", "sc_" + scope, scope, status, NOW, "x", Optional.empty(), Optional.empty(),
                Optional.ofNullable(until), "", 1);
    }

    private static String basic(String id, String secret) {
        String pair = URLEncoder.encode(id, StandardCharsets.UTF_8) + ":" + URLEncoder.encode(secret, StandardCharsets.UTF_8);
        return "Basic " + Base64.getEncoder().encodeToString(pair.getBytes(StandardCharsets.UTF_8));
    }

    private GrantOutcome send(String issuer, List<String> authorization, String form) {
        decision = new Decision.Builder(Plane.TOKEN, NOW);
        return issueToken.issue(new TokenRequest("POST", "application/x-www-form-urlencoded", authorization, "", form.getBytes(StandardCharsets.UTF_8), "127.0.0.1", false),
                configuration.get().issuer(issuer).orElseThrow(), decision);
    }

    private String verdict(String form) {
        return verdict(send("harbour", List.of(basic("cl_buoy", SECRET)), form));
    }

    private static String verdict(GrantOutcome outcome) {
        return switch (outcome) {
            case GrantOutcome.Issued issued -> "issued " + issued.scope();
            case GrantOutcome.Refused refused -> refused.refusal().reason().error() + " " + refused.refusal().reason();
        };
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(delimiter = '|', textBlock = """
            grant_type=client_credentials                                                             | issued tides.read
            grant_type=client_credentials&scope=                                                      | issued tides.read
            grant_type=client_credentials&scope=tides.read                                            | issued tides.read
            grant_type=client_credentials&scope=tides.read+tides.read                                 | issued tides.read
            grant_type=client_credentials&resource=https://tides.example                              | issued tides.read
            grant_type=client_credentials&resource=https://tides.example&resource=https://tides.example | issued tides.read
            grant_type=client_credentials&unknown=1                                                   | issued tides.read
            grant_type=client_credentials&scope=tides.closing                                         | issued tides.closing
            scope=tides.read                                                                          | invalid_request malformed-request
            grant_type=client_credentials&grant_type=client_credentials                               | invalid_request repeated-parameter
            grant_type=client_credentials&scope=a&scope=b                                             | invalid_request repeated-parameter
            grant_type=%ff                                                                            | invalid_request malformed-request
            grant_type=%zz                                                                            | invalid_request malformed-request
            grant_type=client_credentials%00                                                          | invalid_request malformed-request
            grant_type=password&username=a&password=b                                                 | unsupported_grant_type unknown-grant
            grant_type=implicit                                                                       | unsupported_grant_type unknown-grant
            grant_type=client_credentials&scope=nope                                                  | invalid_scope unknown-scope
            grant_type=client_credentials&scope=%22                                                   | invalid_scope malformed-scope
            grant_type=client_credentials&scope=TIDES.READ                                            | invalid_scope unknown-scope
            grant_type=client_credentials&scope=tides.publish                                         | invalid_scope scope-not-approved
            grant_type=client_credentials&scope=tides.read+tides.publish                              | invalid_scope scope-not-approved
            grant_type=client_credentials&scope=berths.read                                           | invalid_scope scope-not-asked
            grant_type=client_credentials&scope=tides.draft                                           | invalid_scope scope-not-in-use
            grant_type=client_credentials&scope=tides.closed                                          | invalid_scope scope-not-in-use
            grant_type=client_credentials&scope=tides.read+berths.read                                | invalid_scope several-apis
            grant_type=client_credentials&resource=https://nope.example                               | invalid_target unknown-resource
            grant_type=client_credentials&resource=https://tides.example/                             | invalid_target unknown-resource
            grant_type=client_credentials&resource=https://tides.example&resource=https://berths.example | invalid_target unknown-resource
            grant_type=client_credentials&resource=https://berths.example&scope=tides.read            | invalid_target scope-of-another-api
            grant_type=client_credentials&resource=https://berths.example                             | invalid_scope no-default-scope""")
    void eachRequestHasItsAnswer(String form, String expected) {
        assertThat(verdict(form)).isEqualTo(expected);
    }

    @Test void credentialsSurviveFormEncodingInsideBasic() {
        assertThat(verdict("grant_type=client_credentials")).startsWith("issued");
        String unencoded = "Basic " + Base64.getEncoder().encodeToString(("cl_buoy:" + SECRET).getBytes(StandardCharsets.UTF_8));
        assertThat(verdict(send("harbour", List.of(unencoded), "grant_type=client_credentials"))).isEqualTo("invalid_client client-not-authenticated");
    }

    @Test void unknownClientAndWrongSecretGetTheSameSentence() {
        GrantOutcome.Refused unknown = (GrantOutcome.Refused) send("harbour", List.of(basic("cl_nobody", SECRET)), "grant_type=client_credentials");
        GrantOutcome.Refused wrong = (GrantOutcome.Refused) send("harbour", List.of(basic("cl_buoy", "wrong")), "grant_type=client_credentials");
        assertThat(wrong).isEqualTo(unknown);
        assertThat(wrong.refusal().reason().status()).isEqualTo(401);
        assertThat(wrong.basicChallenge()).isTrue();
    }

    @Test void aClientOfAnotherIssuerIsUnknown() {
        assertThat(verdict(send("gullwing", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials"))).isEqualTo("invalid_client client-not-authenticated");
    }

    @Test void onlyTheRegisteredMethodAuthenticates() {
        String form = "grant_type=client_credentials&client_id=cl_buoy&client_secret=" + URLEncoder.encode(SECRET, StandardCharsets.UTF_8);
        assertThat(verdict(send("harbour", List.of(), form))).isEqualTo("invalid_client wrong-authentication-method");
        assertThat(verdict(send("harbour", List.of(), form + "x"))).as("the method is told only to who has the secret").isEqualTo("invalid_client client-not-authenticated");
    }

    @Test void formCredentialsWorkForAClientRegisteredSo() {
        method = ClientAuthMethod.CLIENT_SECRET_POST;
        String form = "grant_type=client_credentials&client_id=cl_buoy&client_secret=" + URLEncoder.encode(SECRET, StandardCharsets.UTF_8);
        assertThat(verdict(send("harbour", List.of(), form))).isEqualTo("issued tides.read");
    }

    @Test void twoWaysAtOnceAreRefused() {
        assertThat(verdict(send("harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials&client_secret=x"))).isEqualTo("invalid_request two-authentications");
        assertThat(verdict(send("harbour", List.of(basic("cl_buoy", SECRET), basic("cl_buoy", SECRET)), "grant_type=client_credentials"))).isEqualTo("invalid_request two-authentications");
        assertThat(verdict(send("harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials&client_id=cl_other"))).isEqualTo("invalid_request two-authentications");
    }

    @ParameterizedTest
    @CsvSource({"Basic !!!", "Basic", "'Basic eA=='", "Basic //79"})
    void unreadableBasicIsRefusedWithoutQuotingIt(String header) {
        GrantOutcome.Refused refused = (GrantOutcome.Refused) send("harbour", List.of(header), "grant_type=client_credentials");
        assertThat(refused.refusal().reason()).hasToString("client-not-authenticated");
        assertThat(refused.refusal().sentence()).doesNotContain(header.substring(5).strip().isEmpty() ? "\u0000" : header.substring(5).strip());
    }

    @Test void aSecretThatRanOutIsToldToWhoHasIt() {
        secrets.set(0, new ClientSecret("sec_1", "cl_buoy", "first", SecretHash.of(SECRET), NOW, NOW));
        assertThat(verdict("grant_type=client_credentials")).isEqualTo("invalid_client secret-expired");
        secrets.add(new ClientSecret("sec_2", "cl_buoy", "second", SecretHash.of("other"), NOW, NOW.plusSeconds(5)));
        assertThat(verdict(send("harbour", List.of(basic("cl_buoy", "other")), "grant_type=client_credentials"))).isEqualTo("issued tides.read");
    }

    @Test void aClientThatIsOffIsToldSoOnlyWithItsSecret() {
        enabled = false;
        assertThat(verdict("grant_type=client_credentials")).isEqualTo("invalid_client client-switched-off");
        assertThat(verdict(send("harbour", List.of(basic("cl_buoy", "wrong")), "grant_type=client_credentials"))).isEqualTo("invalid_client client-not-authenticated");
    }

    @Test void aTokenNeverOutlivesTheApprovalOrTheScopeItLeansOn() throws Exception {
        approvals.set(0, approval("tides.read", Approval.Status.GIVEN, NOW.plusSeconds(60)));
        assertThat(((GrantOutcome.Issued) send("harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials")).lifetime()).isLessThanOrEqualTo(61);
        GrantOutcome.Issued closing = (GrantOutcome.Issued) send("harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials&scope=tides.closing");
        Map<String, Object> claims = JWSObject.parse(closing.accessToken()).getPayload().toJSONObject();
        assertThat((Long) claims.get("exp")).isLessThanOrEqualTo(NOW.plusSeconds(100).getEpochSecond());
        approvals.set(0, approval("tides.read", Approval.Status.GIVEN, NOW));
        assertThat(verdict("grant_type=client_credentials&scope=tides.read")).isEqualTo("invalid_scope scope-not-approved");
    }

    @Test void aMintedTokenSaysWhatTheProfileWants() throws Exception {
        GrantOutcome.Issued issued = (GrantOutcome.Issued) send("harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=client_credentials");
        JWSObject token = JWSObject.parse(issued.accessToken());
        assertThat(token.getHeader().getType()).hasToString("at+jwt");
        assertThat(token.getHeader().getAlgorithm()).hasToString("ES256");
        assertThat(token.getHeader().getKeyID()).isEqualTo(KEY.kid());
        assertThat(token.getPayload().toJSONObject()).containsEntry("iss", "https://h.example/harbour").containsEntry("sub", "cl_buoy")
                .containsEntry("client_id", "cl_buoy").containsEntry("aud", "https://tides.example").containsEntry("scope", "tides.read")
                .containsEntry("iat", NOW.getEpochSecond()).containsEntry("exp", NOW.getEpochSecond() + 900).containsKey("jti");
        assertThat(issued.lifetime()).isEqualTo(900);
        assertThat(issued.toString()).doesNotContain(issued.accessToken());
    }

    @Test void theDecisionListsTheChecksInOrder() {
        verdict("grant_type=client_credentials&scope=tides.publish");
        Decision made = decision.answered(400);
        assertThat(made.checks()).extracting(CheckResult::check).containsExactly("form", "client-authentication", "grant", "resource", "approval");
        assertThat(made.about().clientName()).isEqualTo("tide-buoy-07");
        assertThat(made.refusal().orElseThrow().mend().command()).hasValue("admit approval give tide-buoy-07 tides.publish");
        assertThat(made.refusal().orElseThrow().mend().who()).hasValue("an administrator");
    }

    @Test void descriptionsHoldOnlyWhatTheStandardAllows() {
        GrantOutcome.Refused refused = (GrantOutcome.Refused) send("harbour", List.of(basic("cl_buoy", SECRET)), "grant_type=a%22b%5Cc%C3%A9");
        assertThat(refused.refusal().description()).matches("[\\x20-\\x21\\x23-\\x5B\\x5D-\\x7E]+");
    }

    @Test void nothingThatHoldsASecretPrintsIt() {
        TokenRequest request = new TokenRequest("POST", "", List.of("Basic abc"), "access_token=abc", "client_secret=abc".getBytes(StandardCharsets.UTF_8), "127.0.0.1", false);
        FormParameters form = ((FormParameters.Reading.Good) FormParameters.read("client_secret=abc".getBytes(StandardCharsets.UTF_8))).form();
        for (Object holder : List.of(request, form, new dev.admit.core.clientauth.PresentedSecret("abc"), SecretHash.of("abc"), MASTER, KEY, secrets.getFirst(),
                dev.admit.core.clientauth.PresentedClient.read(List.of(), Optional.of("id"), Optional.of("abc")))) {
            assertThat(holder.toString()).doesNotContain("abc").doesNotContain(SECRET);
        }
        dev.admit.core.registry.NewSecret made = dev.admit.core.registry.NewSecret.make();
        assertThat(made.toString()).doesNotContain(made.reveal());
    }
}
