package dev.admit.core.browser;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * The names of cookies that are Admit's own: of its sign-in pages, the console and the gateway's sessions. A browser
 * sends cookies to every port of a host, so at the gateway they are kept from upstreams, and no upstream can set one.
 */
public final class ReservedCookies {
    private static final List<String> PREFIXES = List.of("__host-", "__secure-");

    private ReservedCookies() {}

    /** {@code admit-…} and {@code admit_…}, with or without a prefix that browsers know (RFC 6265bis §4.1.3). */
    public static boolean isReserved(String name) {
        String bare = name.strip().toLowerCase(Locale.ROOT);
        for (String prefix : PREFIXES) if (bare.startsWith(prefix)) bare = bare.substring(prefix.length());
        return bare.startsWith("admit-") || bare.startsWith("admit_");
    }

    /**
     * @param header values of the Cookie header.
     * @return the cookies that an upstream may see, joined; empty for none
     */
    public static String withoutReserved(List<String> header) {
        List<String> kept = new ArrayList<>();
        for (String value : header) {
            for (String cookie : value.split(";")) {
                String one = cookie.strip();
                if (!one.isEmpty() && !isReserved(nameOf(one)) && !isReserved(one)) kept.add(one);
            }
        }
        return String.join("; ", kept);
    }

    /**
     * Whether an upstream's Set-Cookie would set one of Admit's: also without a name, which browsers send back as if
     * its value were name and value.
     */
    public static boolean sets(String setCookie) {
        String pair = setCookie.split(";", 2)[0].strip();
        while (pair.startsWith("=")) pair = pair.substring(1).strip();
        return isReserved(nameOf(pair));
    }

    private static String nameOf(String pair) {
        int equals = pair.indexOf('=');
        return equals < 0 ? pair : pair.substring(0, equals);
    }
}
