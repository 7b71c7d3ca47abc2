package dev.admit.core.token;

import dev.admit.core.token.TokenSource.UnusableClaim;
import java.util.List;
import java.util.Map;

/** Reads single claims of a token whose signature holds. */
public final class ReadClaims {
    private ReadClaims() {}

    public static String text(Map<String, Object> claims, String name) throws UnusableClaim {
        if (claims.get(name) instanceof String text && !text.isEmpty()) return text;
        throw new UnusableClaim(name);
    }

    /** Of a NumericDate (RFC 7519 §2), in epoch seconds. */
    public static long seconds(Map<String, Object> claims, String name) throws UnusableClaim {
        if (claims.get(name) instanceof Number number) return number.longValue();
        throw new UnusableClaim(name);
    }

    /** One or several (RFC 7519 §4.1.3). */
    public static List<String> audiences(Map<String, Object> claims) throws UnusableClaim {
        Object aud = claims.get("aud");
        if (aud instanceof String one) return List.of(one);
        if (aud instanceof List<?> many && !many.isEmpty() && many.stream().allMatch(String.class::isInstance)) {
            return many.stream().map(String.class::cast).toList();
        }
        throw new UnusableClaim("aud");
    }
}
