package dev.admit.server.console;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.concurrent.locks.ReentrantLock;

/** A person who is signed in to the console: the browser has a cookie that stands for this, and no token. */
final class ConsoleSession {
    private static final Duration EARLY = Duration.ofSeconds(30);

    private final String issuer;
    private final String clientId;
    private final String personId;
    private final String formToken;
    private final ReentrantLock renewing = new ReentrantLock();
    private volatile Tokens tokens;

    /** @param expiresAt of the access token */
    record Tokens(String accessToken, Instant expiresAt, Optional<String> refreshToken) {
        boolean isOver(Instant now) {
            return !now.isBefore(expiresAt.minus(EARLY));
        }

        @Override
        public String toString() {
            return "Tokens[hidden]";
        }
    }

    /** @param formToken what a change has to bring along, which no other site can know */
    ConsoleSession(String issuer, String clientId, String personId, String formToken, Tokens tokens) {
        this.issuer = issuer;
        this.clientId = clientId;
        this.personId = personId;
        this.formToken = formToken;
        this.tokens = tokens;
    }

    String issuer() {
        return issuer;
    }

    String clientId() {
        return clientId;
    }

    String personId() {
        return personId;
    }

    String formToken() {
        return formToken;
    }

    Tokens tokens() {
        return tokens;
    }

    void renewed(Tokens fresh) {
        tokens = fresh;
    }

    /** One request renews for all: a refresh token that is used twice ends everything. */
    ReentrantLock renewing() {
        return renewing;
    }

    @Override
    public String toString() {
        return "ConsoleSession[" + personId + "]";
    }
}
