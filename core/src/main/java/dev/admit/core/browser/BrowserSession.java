package dev.admit.core.browser;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * What the gateway holds for a browser that signed in by it. It lives in the browser, sealed; the gateway keeps
 * nothing.
 */
public final class BrowserSession {
    private static final Duration EARLY = Duration.ofSeconds(30);

    private final String clientId;
    private final String apiId;
    private final String accessToken;
    private final Instant expiresAt;
    private final Optional<String> refreshToken;
    private final Instant signedInAt;

    BrowserSession(
            String clientId,
            String apiId,
            String accessToken,
            Instant expiresAt,
            Optional<String> refreshToken,
            Instant signedInAt) {
        this.clientId = clientId;
        this.apiId = apiId;
        this.accessToken = accessToken;
        this.expiresAt = expiresAt;
        this.refreshToken = refreshToken;
        this.signedInAt = signedInAt;
    }

    /** As whom the person signed in. */
    public String clientId() {
        return clientId;
    }

    /** Whose token it has. */
    String apiId() {
        return apiId;
    }

    /** The Authorization header that it stands for. */
    public String authorization() {
        return "Bearer " + accessToken;
    }

    String accessToken() {
        return accessToken;
    }

    Optional<String> refreshToken() {
        return refreshToken;
    }

    Instant expiresAt() {
        return expiresAt;
    }

    Instant signedInAt() {
        return signedInAt;
    }

    /** A little before it is over, so that no request carries a token that ends on its way. */
    boolean isOver(Instant now) {
        return !now.isBefore(expiresAt.minus(EARLY));
    }

    /** Whether the sign-in is so fresh that another would come to the same. */
    public boolean isFresh(Instant now) {
        return now.isBefore(signedInAt.plus(EARLY));
    }

    @Override
    public String toString() {
        return "BrowserSession[" + clientId + "]";
    }
}
