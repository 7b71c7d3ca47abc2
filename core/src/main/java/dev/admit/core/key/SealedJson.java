package dev.admit.core.key;

import com.nimbusds.jose.util.JSONObjectUtils;
import java.nio.charset.StandardCharsets;
import java.text.ParseException;
import java.util.Base64;
import java.util.Map;
import java.util.Optional;

/** Seals a few members into a text that others keep or carry for this service, and can neither read nor make. */
public final class SealedJson {
    private static final int SHORTEST = 32;
    private final MasterKey masterKey;
    private final String name;
    private final int longest;

    /**
     * @param name what it is for: what was sealed under one name opens under no other
     * @param longest characters; a longer text is not looked at
     */
    public SealedJson(MasterKey masterKey, String name, int longest) {
        this.masterKey = masterKey;
        this.name = name;
        this.longest = longest;
    }

    /** @return base64url, fit for cookies, addresses and forms */
    public String seal(Map<String, Object> members) {
        byte[] json = JSONObjectUtils.toJSONString(members).getBytes(StandardCharsets.UTF_8);
        return Base64.getUrlEncoder().withoutPadding().encodeToString(masterKey.seal(json, name));
    }

    /** Empty for whatever this key did not seal under this name. */
    public Optional<Map<String, Object>> open(String text) {
        if (text.length() > longest) return Optional.empty();
        try {
            byte[] sealed = Base64.getUrlDecoder().decode(text);
            return sealed.length < SHORTEST
                    ? Optional.empty()
                    : Optional.of(
                            JSONObjectUtils.parse(new String(masterKey.open(sealed, name), StandardCharsets.UTF_8)));
        } catch (IllegalArgumentException | SigningFault | ParseException notOurs) {
            return Optional.empty(); // of another service, changed, or made up
        }
    }

    @Override
    public String toString() {
        return "SealedJson[" + name + "]";
    }
}
