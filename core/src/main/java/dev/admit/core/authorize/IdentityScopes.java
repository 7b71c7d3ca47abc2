package dev.admit.core.authorize;

import dev.admit.core.access.AdminApi;
import dev.admit.core.change.Known;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;

/** The issuer's own scopes (OpenID Connect Core §5.4, §11): about the person, of no API. */
public final class IdentityScopes {
    public static final String OPENID = "openid";
    public static final String OFFLINE = "offline_access";
    private static final Map<String, String> WORDS = new LinkedHashMap<>();

    static {
        WORDS.put(OPENID, "Know that it is you.");
        WORDS.put("profile", "See your name and the rest of your profile.");
        WORDS.put("email", "See your e-mail address.");
        WORDS.put("address", "See your postal address.");
        WORDS.put("phone", "See your telephone number.");
        WORDS.put(AdminApi.RUN, "Run Admit here for you, as far as you may yourself.");
        WORDS.put(OFFLINE, "Go on acting for you when you are not there, until you withdraw it.");
    }

    private IdentityScopes() {}

    public static Set<String> all() {
        return WORDS.keySet();
    }

    public static boolean isOne(String scope) {
        return WORDS.containsKey(scope);
    }

    /**
     * Whether only an administrator may approve it, for everyone: a client that a person registered must not run Admit
     * because one who may was asked on a page.
     */
    public static boolean needsAdministrator(String scope) {
        return scope.equals(AdminApi.RUN);
    }

    /** What approving means, for the person. */
    public static String words(String scope) {
        return Known.in(WORDS, scope);
    }
}
