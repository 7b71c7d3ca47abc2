package dev.admit.gateway;

import dev.admit.core.token.VerifiedToken;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;

/** The headers that carry who called, which a caller can never set. */
final class PassedHeaders {
    private static final Set<String> FORWARDING = Set.of("authorization", "forwarded", "x-forwarded-for", "x-forwarded-host",
            "x-forwarded-proto", "x-forwarded-port", "x-forwarded-prefix", "x-real-ip", "x-forwarded-server", "proxy-authorization");

    private PassedHeaders() {}

    /** Whether a header of the caller's is dropped: the token, claims about forwarding, and all that looks like ours. */
    static boolean isOurs(HttpField field) {
        String name = field.getLowerCaseName();
        char first = name.isEmpty() ? ' ' : name.charAt(0);
        if (first != 'a' && first != 'f' && first != 'x' && first != 'p') return false;
        return isNamedAdmit(name) || FORWARDING.contains(name);
    }

    /** Also with underscores, which many backends read as hyphens. */
    static boolean isNamedAdmit(String name) {
        return name.startsWith("admit") && (name.length() == 5 || name.charAt(5) == '-' || name.charAt(5) == '_');
    }

    /** What a browser keeps for the gateway is no backend's to see. */
    static void withoutOurCookies(HttpFields.Mutable headers) {
        if (!headers.contains(HttpHeader.COOKIE)) return;
        List<String> kept = headers.getValuesList(HttpHeader.COOKIE).stream().flatMap(it -> Arrays.stream(it.split(";"))).map(String::strip)
                .filter(it -> !it.isEmpty() && !it.startsWith("admit_") && !it.startsWith("__Host-admit_")).toList();
        headers.remove(HttpHeader.COOKIE);
        if (!kept.isEmpty()) headers.put(HttpHeader.COOKIE, String.join("; ", kept));
    }

    /** @param passage the proof that the request came this way; empty for none */
    static void add(Passing passing, Optional<String> passage, HttpFields.Mutable headers) {
        passage.ifPresent(it -> headers.put("Admit-Passage", it));
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
