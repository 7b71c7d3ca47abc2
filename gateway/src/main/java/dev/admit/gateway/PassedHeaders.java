package dev.admit.gateway;

import dev.admit.core.browser.ReservedCookies;
import dev.admit.core.route.HeaderName;
import dev.admit.core.token.VerifiedToken;
import java.util.Optional;
import java.util.Set;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;

/** The headers that carry who called, which a caller can never set. */
final class PassedHeaders {
    private static final Set<String> FORWARDING = Set.of(
            "authorization",
            "forwarded",
            "x-forwarded-for",
            "x-forwarded-host",
            "x-forwarded-proto",
            "x-forwarded-port",
            "x-forwarded-prefix",
            "x-real-ip",
            "x-forwarded-server",
            "proxy-authorization");

    /**
     * Headers by which some backends take another method, address or caller than those that were checked. A route that
     * wants one sets it itself.
     */
    private static final Set<String> INSTEAD = Set.of(
            "x-http-method-override",
            "x-http-method",
            "x-method-override",
            "x-original-method",
            "x-original-url",
            "x-original-uri",
            "x-rewrite-url",
            "x-original-host",
            "x-host",
            "remote-user",
            "x-remote-user",
            "x-forwarded-user",
            "x-authenticated-user",
            "x-client-ip",
            "x-cluster-client-ip",
            "true-client-ip",
            "proxy");

    /**
     * The connection's and the message's own (RFC 9110 §7.6.1, §8.6): in their right spelling the proxy handles them,
     * in another nobody does.
     */
    private static final Set<String> MESSAGE = Set.of(
            "connection",
            "keep-alive",
            "proxy-connection",
            "proxy-authenticate",
            "te",
            "trailer",
            "transfer-encoding",
            "upgrade",
            "content-length",
            "content-type",
            "host",
            "cookie");

    private PassedHeaders() {}

    /**
     * Whether a header of the caller's is dropped: the token, claims about forwarding, all that looks like ours, and
     * whatever a backend could take for a header that the gateway or the route sets, removes or replaces.
     *
     * @param ofRoute what the route sets, renames or removes, as backends read names
     */
    static boolean isOurs(HttpField field, Set<String> ofRoute, Optional<String> presented) {
        String name = field.getLowerCaseName();
        if (HeaderName.isOdd(name)) {
            String read = HeaderName.asBackendsRead(name);
            return isNamedAdmit(read)
                    || FORWARDING.contains(read)
                    || INSTEAD.contains(read)
                    || MESSAGE.contains(read)
                    || ofRoute.contains(read)
                    || presented
                            .filter(it -> HeaderName.asBackendsRead(it).equals(read))
                            .isPresent();
        }
        // A route may itself use an odd name: then the plain one is the other spelling.
        if (!ofRoute.isEmpty() && ofRoute.contains(name)
                || presented
                        .filter(it -> HeaderName.asBackendsRead(it).equals(name))
                        .isPresent()) return true;
        char first = name.isEmpty() ? ' ' : name.charAt(0);
        if (first != 'a' && first != 'f' && first != 'x' && first != 'p' && first != 'r' && first != 't') return false;
        return isNamedAdmit(name) || FORWARDING.contains(name) || INSTEAD.contains(name);
    }

    /**
     * Whether a header is one of ours.
     *
     * @param name as backends read it
     */
    static boolean isNamedAdmit(String name) {
        return name.startsWith("admit") && (name.length() == 5 || name.charAt(5) == '-');
    }

    /** What a browser keeps for the gateway is no backend's to see. */
    static void withoutOurCookies(HttpFields.Mutable headers) {
        if (!headers.contains(HttpHeader.COOKIE)) return;
        String kept = ReservedCookies.withoutReserved(headers.getValuesList(HttpHeader.COOKIE));
        headers.remove(HttpHeader.COOKIE);
        if (!kept.isEmpty()) headers.put(HttpHeader.COOKIE, kept);
    }

    /** @param proof the proof that the request came this way; empty for none */
    static void add(Passing passing, Optional<String> proof, HttpFields.Mutable headers) {
        proof.ifPresent(it -> headers.put("Admit-Proof", it));
        headers.put(GateHandler.DECISION_HEADER, passing.decision().id());
        headers.put("Admit-Issuer", passing.admitted().route().issuer().issuer().name());
        if (passing.admitted().token().isEmpty()) return;
        VerifiedToken token = passing.admitted().token().get();
        headers.put("Admit-Caller", token.clientId());
        headers.put("Admit-Scopes", token.scopeText());
        if (token.isFromElsewhere()) headers.put("Admit-Token-Issuer", token.issuer());
        if (!token.isClientsOwn()) headers.put("Admit-Person", token.subject());
    }
}
