package dev.admit.server.console;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpFilter;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.Collections;
import java.util.Enumeration;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Lets the console's pages ask the admin API: the cookie stands for the person, and the person's own token goes on with
 * the request, which then passes the admin API's door like anybody's. A change is taken from the console's own pages
 * alone (cross-site request forgery).
 */
final class ConsoleDoor extends HttpFilter {
    /** Goes with each change; its value is the session's own. */
    static final String FORM = "Admit-Form";

    private static final Set<String> READING = Set.of("GET", "HEAD");
    private static final String ADMIN = "/admin";

    private final transient ConsoleSessions sessions;

    ConsoleDoor(ConsoleSessions sessions) {
        this.sessions = sessions;
    }

    @Override
    protected void doFilter(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws IOException, ServletException {
        Optional<ConsoleSession> session = sessions.of(request);
        Optional<String> token = session.flatMap(it -> sessions.accessToken(it, request));
        if (token.isEmpty()) {
            refuse(
                    response,
                    401,
                    "not-signed-in",
                    "Nobody is signed in to the console, or the sign-in has ended. Sign in again.");
            return;
        }
        if (comesFromElsewhere(request) || !READING.contains(request.getMethod()) && !isOurs(session.get(), request)) {
            refuse(
                    response,
                    403,
                    "not-from-the-console",
                    "This was not sent by a page of the console. Open the page again.");
            return;
        }
        response.setHeader("X-Content-Type-Options", "nosniff");
        String path = request.getRequestURI().substring(ConsoleAddresses.API.length());
        request.getRequestDispatcher(ADMIN + path)
                .forward( // the query goes along by itself
                        new WithToken(request, token.get()), response);
    }

    /** Whether a request brought what the session alone knows. */
    static boolean isOurs(ConsoleSession session, HttpServletRequest request) {
        String received = request.getHeader(FORM);
        return received != null
                && MessageDigest.isEqual(
                        received.getBytes(StandardCharsets.UTF_8),
                        session.formToken().getBytes(StandardCharsets.UTF_8))
                && !comesFromElsewhere(request);
    }

    /**
     * Fetch Metadata: browsers tell whose page sent a request; a client that tells nothing has no cookie by accident.
     */
    static boolean comesFromElsewhere(HttpServletRequest request) {
        String site = request.getHeader("Sec-Fetch-Site");
        return site != null && !site.equals("same-origin") && !site.equals("none");
    }

    private static void refuse(HttpServletResponse response, int status, String reason, String sentence)
            throws IOException {
        response.setStatus(status);
        response.setContentType("application/problem+json");
        response.setHeader("Cache-Control", "no-store");
        response.getOutputStream()
                .write("{\"title\":\"Refused\",\"status\":%d,\"reason\":\"%s\",\"detail\":\"%s\"}"
                        .formatted(status, reason, sentence)
                        .getBytes(StandardCharsets.UTF_8));
    }

    /** The same request, with the person's token in the place of whatever the page sent. */
    private static final class WithToken extends HttpServletRequestWrapper {
        private static final String HEADER = "Authorization";
        private final String value;

        WithToken(HttpServletRequest request, String token) {
            super(request);
            this.value = "Bearer " + token;
        }

        @Override
        public String getHeader(String name) {
            return HEADER.equalsIgnoreCase(name) ? value : super.getHeader(name);
        }

        @Override
        public Enumeration<String> getHeaders(String name) {
            return HEADER.equalsIgnoreCase(name) ? Collections.enumeration(List.of(value)) : super.getHeaders(name);
        }
    }
}
