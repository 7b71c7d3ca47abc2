package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * What a client's developer needs to connect, by the kind of the client. No secret is in it.
 *
 * @param authorizationEndpoint for a client that people sign in to; null for another, as the next three where they do
 *     not fit
 * @param deviceAuthorizationEndpoint for a client that may use the device grant
 * @param redirectUri the first that is registered
 * @param pkce the method that is wanted with each code
 * @param audiences of the APIs whose scopes it requests
 * @param scope all that it requests, space-separated
 * @param env the settings as a .env file; the secret is to be filled in
 * @param code file name → a program on general-purpose libraries that reads that .env
 */
public record ConnectingView(
        @OneOf({"machine", "web", "browser", "native", "device"})
        String kind,

        @JsonProperty("client_id") String clientId,
        String issuer,
        @JsonProperty("authorization_endpoint") @Nullable String authorizationEndpoint,
        @JsonProperty("token_endpoint") String tokenEndpoint,

        @JsonProperty("device_authorization_endpoint") @Nullable
        String deviceAuthorizationEndpoint,

        @JsonProperty("redirect_uri") @Nullable String redirectUri,
        @Nullable String pkce,
        List<String> audiences,
        String scope,
        String env,
        Map<String, String> code) {}
