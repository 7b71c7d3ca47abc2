package dev.admit.server.admin;

import dev.admit.core.change.Actor;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SealedJson;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;

/**
 * What the console is handed after a person signed in for a client that an operator tries: the trial token, sealed, so
 * that no token lies in the browser. It is of use to that operator alone, at {@link CallEndpoint} alone.
 */
@Component
public class PersonTrials {
    private static final int LONGEST = 8_000;
    private final SealedJson sealed;

    PersonTrials(MasterKey masterKey) {
        this.sealed = new SealedJson(masterKey, "trial token of a person", LONGEST);
    }

    public String seal(String token, String operatorId) {
        return sealed.seal(Map.of("t", token, "o", operatorId));
    }

    Optional<String> open(String handed, Actor operator) {
        return sealed.open(handed)
                .filter(it -> operator.id().equals(it.get("o")))
                .map(it -> (String) it.get("t"));
    }
}
