package dev.admit.contract;

import java.util.List;

/**
 * An initial access token that was just made.
 *
 * @param token shown this once
 * @param curl a line that registers a client with it
 */
public record InitialAccessTokenMade(InitialAccessTokenView now, String token, String curl, List<String> notes) {
    @Override
    public String toString() {
        return "InitialAccessTokenMade[" + now.label() + "]";
    }
}
