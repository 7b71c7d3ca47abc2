package dev.admit.gateway;

import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.List;
import java.util.regex.Pattern;
import org.eclipse.jetty.util.InetAddressSet;

/**
 * Who may say on whose behalf a connection was made. Of the addresses in {@code X-Forwarded-For} the last one that no
 * trusted proxy has is the caller's: whatever stands before it, the caller may have written there.
 */
public final class TrustedProxies {
    public static final TrustedProxies NONE = new TrustedProxies(List.of());
    /**
     * Four numbers or an IPv6 address; not the shorter forms that Java reads too, nor a name that would have to be
     * looked up.
     */
    private static final String ADDRESS = "(\\d{1,3}(\\.\\d{1,3}){3}|[0-9a-fA-F]*:[0-9a-fA-F:.]+)";

    private static final Pattern LITERAL = Pattern.compile(ADDRESS);
    private static final Pattern MEANT = Pattern.compile(ADDRESS + "(/\\d{1,3}|-" + ADDRESS + ")?");
    private final InetAddressSet trusted = new InetAddressSet();

    private TrustedProxies(List<String> patterns) {
        for (String pattern : patterns) {
            if (!MEANT.matcher(pattern).matches()) throw new IllegalArgumentException(pattern);
            trusted.add(pattern);
        }
    }

    /**
     * @param patterns addresses, ranges ({@code 10.0.0.1-10.0.0.9}) or networks ({@code 10.0.0.0/8})
     * @throws IllegalArgumentException when one is none
     */
    public static TrustedProxies of(List<String> patterns) {
        return patterns.isEmpty() ? NONE : new TrustedProxies(patterns);
    }

    /**
     * @param peer who made the connection
     * @param forwardedFor the header's values in their order, joined by commas; may be null
     */
    public String caller(String peer, String forwardedFor) {
        if (forwardedFor == null || trusted.isEmpty() || !isTrusted(peer)) return peer;
        String[] hops = forwardedFor.split(",");
        String caller = peer;
        for (int i = hops.length - 1; i >= 0; i--) {
            String hop = hops[i].strip().replaceAll("^\\[|\\](:\\d+)?$", "");
            if (!LITERAL.matcher(hop).matches()) return caller; // what is no address is nobody's
            caller = hop;
            if (!isTrusted(hop)) return caller;
        }
        return caller;
    }

    /** Whether the one who made the connection speaks for others. */
    public boolean trusts(String peer) {
        return !trusted.isEmpty() && isTrusted(peer);
    }

    private boolean isTrusted(String address) {
        try {
            return LITERAL.matcher(address).matches()
                    && trusted.test(InetAddress.getByName(address)); // a literal is never looked up
        } catch (UnknownHostException none) {
            return false;
        }
    }
}
