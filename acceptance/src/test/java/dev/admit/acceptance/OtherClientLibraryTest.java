package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.oauth2.sdk.AuthorizationCode;
import com.nimbusds.oauth2.sdk.AuthorizationCodeGrant;
import com.nimbusds.oauth2.sdk.AuthorizationGrant;
import com.nimbusds.oauth2.sdk.RefreshTokenGrant;
import com.nimbusds.oauth2.sdk.ResponseMode;
import com.nimbusds.oauth2.sdk.ResponseType;
import com.nimbusds.oauth2.sdk.Scope;
import com.nimbusds.oauth2.sdk.TokenErrorResponse;
import com.nimbusds.oauth2.sdk.TokenRequest;
import com.nimbusds.oauth2.sdk.TokenResponse;
import com.nimbusds.oauth2.sdk.TokenRevocationRequest;
import com.nimbusds.oauth2.sdk.auth.ClientSecretPost;
import com.nimbusds.oauth2.sdk.auth.Secret;
import com.nimbusds.oauth2.sdk.device.DeviceAuthorizationRequest;
import com.nimbusds.oauth2.sdk.device.DeviceAuthorizationResponse;
import com.nimbusds.oauth2.sdk.device.DeviceAuthorizationSuccessResponse;
import com.nimbusds.oauth2.sdk.device.DeviceCodeGrant;
import com.nimbusds.oauth2.sdk.id.ClientID;
import com.nimbusds.oauth2.sdk.id.Issuer;
import com.nimbusds.oauth2.sdk.id.State;
import com.nimbusds.oauth2.sdk.pkce.CodeChallengeMethod;
import com.nimbusds.oauth2.sdk.pkce.CodeVerifier;
import com.nimbusds.openid.connect.sdk.AuthenticationErrorResponse;
import com.nimbusds.openid.connect.sdk.AuthenticationRequest;
import com.nimbusds.openid.connect.sdk.AuthenticationSuccessResponse;
import com.nimbusds.openid.connect.sdk.LogoutRequest;
import com.nimbusds.openid.connect.sdk.Nonce;
import com.nimbusds.openid.connect.sdk.OIDCError;
import com.nimbusds.openid.connect.sdk.OIDCTokenResponse;
import com.nimbusds.openid.connect.sdk.OIDCTokenResponseParser;
import com.nimbusds.openid.connect.sdk.Prompt;
import com.nimbusds.openid.connect.sdk.UserInfoRequest;
import com.nimbusds.openid.connect.sdk.UserInfoResponse;
import com.nimbusds.openid.connect.sdk.claims.IDTokenClaimsSet;
import com.nimbusds.openid.connect.sdk.op.OIDCProviderMetadata;
import com.nimbusds.openid.connect.sdk.validators.IDTokenValidator;
import java.net.URI;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import tools.jackson.databind.JsonNode;

/** A client library of another person goes every way, with nothing but the issuer's URL and its registration. */
@ResourceLock(Running.DEMO)
class OtherClientLibraryTest {
    private static Running demo;
    private static Issuer issuer;
    private static OIDCProviderMetadata metadata;

    @BeforeAll
    static void discover() throws Exception {
        demo = Running.demo();
        issuer = new Issuer(demo.ready().path("issuers").path("harbour").asString());
        metadata = OIDCProviderMetadata.resolve(issuer);
    }

    private static JsonNode registered(String client) {
        return demo.ready().path("clients").path(client);
    }

    private static OIDCTokenResponse token(TokenRequest request) throws Exception {
        TokenResponse response =
                OIDCTokenResponseParser.parse(request.toHTTPRequest().send());
        if (response instanceof TokenErrorResponse error)
            throw new AssertionError(error.getErrorObject().toJSONObject());
        return (OIDCTokenResponse) response;
    }

    @Test
    void aWebApplicationSignsAPersonIn() throws Exception {
        ClientID id = new ClientID(registered("berth-desk").path("client_id").asString());
        ClientSecretPost proof = new ClientSecretPost(
                id, new Secret(registered("berth-desk").path("client_secret").asString()));
        CodeVerifier verifier = new CodeVerifier();
        Nonce nonce = new Nonce();
        State state = new State();
        URI callback = URI.create(Visitor.redirect("berth-desk"));
        AuthenticationRequest request = new AuthenticationRequest.Builder(
                        ResponseType.CODE, Scope.parse("openid email berths.read"), id, callback)
                .endpointURI(metadata.getAuthorizationEndpointURI())
                .state(state)
                .nonce(nonce)
                .codeChallenge(verifier, CodeChallengeMethod.S256)
                .build();
        Visitor.Seen back = Visitor.signIn(new Visitor(demo).get(request.toURI().toString()), demo, "isolde");
        AuthenticationSuccessResponse success = AuthenticationSuccessResponse.parse(URI.create(back.location()));
        assertThat(success.getState()).isEqualTo(state);
        assertThat(success.getIssuer()).isEqualTo(issuer);

        OIDCTokenResponse tokens = token(new TokenRequest.Builder(
                        metadata.getTokenEndpointURI(),
                        proof,
                        new AuthorizationCodeGrant(success.getAuthorizationCode(), callback, verifier))
                .build());
        IDTokenClaimsSet claims = new IDTokenValidator(
                        issuer, id, JWSAlgorithm.RS256, metadata.getJWKSetURI().toURL())
                .validate(tokens.getOIDCTokens().getIDToken(), nonce);
        UserInfoResponse told = UserInfoResponse.parse(new UserInfoRequest(
                        metadata.getUserInfoEndpointURI(), tokens.getTokens().getAccessToken())
                .toHTTPRequest()
                .send());
        assertThat(told.toSuccessResponse().getUserInfo().getSubject()).isEqualTo(claims.getSubject());
        assertThat(told.toSuccessResponse().getUserInfo().getEmailAddress())
                .isEqualTo("isolde.marrin@saltmarsh.example");
        assertThat(Wire.call(
                                "GET",
                                demo.gateway() + "/berths/n1",
                                tokens.getTokens().getAccessToken().getValue())
                        .status())
                .isEqualTo(200);

        OIDCTokenResponse next =
                token(new TokenRequest.Builder(metadata.getTokenEndpointURI(), proof, (AuthorizationGrant)
                                new RefreshTokenGrant(tokens.getTokens().getRefreshToken()))
                        .build());
        assertThat(new TokenRevocationRequest(
                                metadata.getRevocationEndpointURI(),
                                proof,
                                next.getTokens().getRefreshToken())
                        .toHTTPRequest()
                        .send()
                        .getStatusCode())
                .isEqualTo(200);
        assertThat(Wire.call(
                                "GET",
                                demo.gateway() + "/berths/n1",
                                next.getTokens().getAccessToken().getValue())
                        .status())
                .as("a refresh token given back ends what came with it")
                .isEqualTo(401);
        assertThat(Visitor.refresh(
                                demo,
                                "berth-desk",
                                next.getTokens().getRefreshToken().getValue(),
                                "")
                        .status())
                .isEqualTo(400);
    }

    @Test
    void anAnswerComesAsAFormAndThePersonIsSignedOut() throws Exception {
        ClientID id = new ClientID(registered("berth-desk").path("client_id").asString());
        ClientSecretPost proof = new ClientSecretPost(
                id, new Secret(registered("berth-desk").path("client_secret").asString()));
        CodeVerifier verifier = new CodeVerifier();
        Nonce nonce = new Nonce();
        URI callback = URI.create(Visitor.redirect("berth-desk"));
        AuthenticationRequest.Builder request = new AuthenticationRequest.Builder(
                        ResponseType.CODE, Scope.parse("openid"), id, callback)
                .endpointURI(metadata.getAuthorizationEndpointURI())
                .state(new State("s 1&2"))
                .nonce(nonce)
                .codeChallenge(verifier, CodeChallengeMethod.S256)
                .responseMode(ResponseMode.FORM_POST);
        Visitor isolde = new Visitor(demo);
        Visitor.Seen form = Visitor.signIn(isolde.get(request.build().toURI().toString()), demo, "isolde");
        Map<String, List<String>> posted = new LinkedHashMap<>();
        for (String name : List.of("code", "state", "iss")) posted.put(name, form.hidden(name));
        AuthenticationSuccessResponse success = AuthenticationSuccessResponse.parse(callback, posted);
        assertThat(success.getState().getValue()).isEqualTo("s 1&2");
        OIDCTokenResponse tokens = token(new TokenRequest.Builder(
                        metadata.getTokenEndpointURI(),
                        proof,
                        new AuthorizationCodeGrant(success.getAuthorizationCode(), callback, verifier))
                .build());

        LogoutRequest out = new LogoutRequest(
                metadata.getEndSessionEndpointURI(),
                tokens.getOIDCTokens().getIDToken(),
                URI.create("http://127.0.0.1:9495/"),
                new State("bye"));
        Visitor.Seen back = isolde.get(out.toURI().toString());
        assertThat(back.location()).isEqualTo("http://127.0.0.1:9495/?state=bye");
        AuthenticationRequest silent = request.prompt(Prompt.Type.NONE)
                .responseMode(ResponseMode.QUERY)
                .build();
        AuthenticationErrorResponse signedOut = AuthenticationErrorResponse.parse(
                URI.create(isolde.get(silent.toURI().toString()).location()));
        assertThat(signedOut.getErrorObject()).isEqualTo(OIDCError.LOGIN_REQUIRED);
    }

    @Test
    void aDeviceIsApproved() throws Exception {
        ClientID id = new ClientID(registered("ferry-kiosk").path("client_id").asString());
        DeviceAuthorizationResponse response =
                DeviceAuthorizationResponse.parse(new DeviceAuthorizationRequest.Builder(id)
                        .scope(Scope.parse("tides.read"))
                        .endpointURI(metadata.getDeviceAuthorizationEndpointURI())
                        .build()
                        .toHTTPRequest()
                        .send());
        DeviceAuthorizationSuccessResponse device = response.toSuccessResponse();
        Visitor tobias = new Visitor(demo);
        Visitor.signIn(tobias.get("/harbour/sign-in"), demo, "tobias");
        tobias.get(device.getVerificationURIComplete().toString()).send("/harbour/device/answer", "answer", "yes");
        OIDCTokenResponse tokens =
                token(new TokenRequest.Builder(metadata.getTokenEndpointURI(), id, (AuthorizationGrant)
                                new DeviceCodeGrant(device.getDeviceCode()))
                        .build());
        assertThat(Wire.call(
                                "GET",
                                demo.gateway() + "/tides/north-quay",
                                tokens.getTokens().getAccessToken().getValue())
                        .status())
                .isEqualTo(200);
    }

    @Test
    void aNativeApplicationListensOnWhicheverPortIsFree() throws Exception {
        ClientID id = new ClientID(registered("pilot-tablet").path("client_id").asString());
        CodeVerifier verifier = new CodeVerifier();
        URI callback = URI.create("http://127.0.0.1:" + Running.freePort() + "/back");
        AuthenticationRequest request = new AuthenticationRequest.Builder(
                        ResponseType.CODE, Scope.parse("openid offline_access tides.read"), id, callback)
                .endpointURI(metadata.getAuthorizationEndpointURI())
                .state(new State())
                .nonce(new Nonce())
                .codeChallenge(verifier, CodeChallengeMethod.S256)
                .build();
        Visitor.Seen back = Visitor.approve(
                Visitor.signIn(new Visitor(demo).get(request.toURI().toString()), demo, "tobias"));
        OIDCTokenResponse tokens = token(new TokenRequest.Builder(
                        metadata.getTokenEndpointURI(),
                        id,
                        new AuthorizationCodeGrant(new AuthorizationCode(back.parameter("code")), callback, verifier))
                .build());
        assertThat(tokens.getTokens().getRefreshToken()).isNotNull();
    }
}
