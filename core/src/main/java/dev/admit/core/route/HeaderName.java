package dev.admit.core.route;

import java.util.Locale;

/**
 * The name of a header as backends read it that follow CGI (RFC 3875 §4.1.18) or its like: there {@code X_Tenant},
 * {@code X.Tenant} and {@code X-Tenant} are one. What the gateway sets or removes is compared so.
 */
public final class HeaderName {
    private HeaderName() {}

    /** In lower case, with a hyphen for whatever is neither letter nor digit. */
    public static String asBackendsRead(String name) {
        StringBuilder read = new StringBuilder(name.length());
        for (int i = 0; i < name.length(); i++) read.append(isPlain(name.charAt(i)) ? name.charAt(i) : '-');
        return read.toString().toLowerCase(Locale.ROOT);
    }

    /** Whether a name has another character than letters, digits and hyphens. */
    public static boolean isOdd(String name) {
        for (int i = 0; i < name.length(); i++) if (name.charAt(i) != '-' && !isPlain(name.charAt(i))) return true;
        return false;
    }

    private static boolean isPlain(char c) {
        return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9';
    }
}
