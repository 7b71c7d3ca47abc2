package dev.admit.server.admin;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.core.change.Actor;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningFault;
import java.nio.charset.StandardCharsets;
import java.text.ParseException;
import java.util.Base64;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;

/**
 * What the console is handed after a person signed in for a client that an operator tries: the trial token, sealed, so that no token
 * lies in the browser. It is of use to that operator alone, at {@link CallEndpoint} alone.
 */
@Component
public class PersonTrials {
    private static final String NAME = "trial token of a person";
    private static final int LONGEST = 8_000;
    private final MasterKey masterKey;

    PersonTrials(MasterKey masterKey) {
        this.masterKey = masterKey;
    }

    public String seal(String token, String operatorId) {
        byte[] json = JSONObjectUtils.toJSONString(Map.of("t", token, "o", operatorId)).getBytes(StandardCharsets.UTF_8);
        return Base64.getUrlEncoder().withoutPadding().encodeToString(masterKey.seal(json, NAME));
    }

    Optional<String> open(String sealed, Actor operator) {
        if (sealed.length() > LONGEST) return Optional.empty();
        try {
            byte[] bytes = Base64.getUrlDecoder().decode(sealed);
            if (bytes.length < 32) return Optional.empty();
            Map<String, Object> json = JSONObjectUtils.parse(new String(masterKey.open(bytes, NAME), StandardCharsets.UTF_8));
            return operator.id().equals(json.get("o")) ? Optional.of((String) json.get("t")) : Optional.empty();
        } catch (IllegalArgumentException | SigningFault | ParseException notOurs) {
            return Optional.empty();
        }
    }
}
