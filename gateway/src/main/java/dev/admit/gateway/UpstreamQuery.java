package dev.admit.gateway;

/** Spells a query so that every HTTP parser takes it: what RFC 3986 §3.4 does not allow is percent-encoded. */
final class UpstreamQuery {
    private static final String PLAIN = "-._~!$&'()*+,;=:@/?";
    private static final String HEX = "0123456789ABCDEF";

    private UpstreamQuery() {}

    static String spell(String query) {
        int bad = firstBad(query, 0);
        if (bad < 0) return query;
        StringBuilder out = new StringBuilder(query.length() + 16);
        int from = 0;
        while (bad >= 0) {
            out.append(query, from, bad);
            for (byte b : query.substring(bad, bad + 1).getBytes(java.nio.charset.StandardCharsets.UTF_8)) {
                out.append('%').append(HEX.charAt((b >> 4) & 15)).append(HEX.charAt(b & 15));
            }
            from = bad + 1;
            bad = firstBad(query, from);
        }
        return out.append(query, from, query.length()).toString();
    }

    private static int firstBad(String query, int from) {
        for (int i = from; i < query.length(); i++) {
            char c = query.charAt(i);
            boolean plain =
                    c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || PLAIN.indexOf(c) >= 0;
            boolean escape = c == '%'
                    && i + 2 < query.length()
                    && Character.digit(query.charAt(i + 1), 16) >= 0
                    && Character.digit(query.charAt(i + 2), 16) >= 0;
            if (!plain && !escape) return i;
        }
        return -1;
    }
}
