package dev.admit.server.protocol;

import dev.admit.core.configuration.BrowserOrigins;
import dev.admit.core.configuration.LiveConfiguration;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Set;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Lets pages of browser clients call the endpoints that they need from their own origin, and nobody else's (CORS).
 * Metadata and keys are for everyone. No cookie is ever let through, so nothing here acts for a person who is signed
 * in.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE + 10)
class PagesThatCall extends OncePerRequestFilter {
    private static final Set<String> FOR_CLIENTS = Set.of("token", "revoke", "userinfo");
    private static final Set<String> FOR_ALL = Set.of("jwks", "openid-configuration", "oauth-authorization-server");

    private final BrowserOrigins origins;
    private final LiveConfiguration configuration;

    PagesThatCall(BrowserOrigins origins, LiveConfiguration configuration) {
        this.origins = origins;
        this.configuration = configuration;
    }

    private boolean isOfPage(String issuer, String origin) {
        return configuration
                .get()
                .issuer(issuer)
                .filter(it -> origins.allows(it.issuer().id(), origin))
                .isPresent();
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        String origin = request.getHeader("Origin");
        String[] path = request.getRequestURI().split("/", 4);
        String last = request.getRequestURI().substring(request.getRequestURI().lastIndexOf('/') + 1);
        boolean known = path.length >= 3
                && (FOR_CLIENTS.contains(last)
                        || FOR_ALL.contains(last)
                        || request.getRequestURI().startsWith("/.well-known/"));
        if (origin == null || !known) {
            chain.doFilter(request, response);
            return;
        }
        boolean forAll = !FOR_CLIENTS.contains(last);
        boolean allowed = forAll || isOfPage(path[1], origin);
        response.addHeader("Vary", "Origin");
        if (allowed) {
            response.setHeader("Access-Control-Allow-Origin", forAll ? "*" : origin);
            response.setHeader("Access-Control-Expose-Headers", "Admit-Decision, WWW-Authenticate, Retry-After");
        }
        if (request.getMethod().equals("OPTIONS") && request.getHeader("Access-Control-Request-Method") != null) {
            if (allowed) {
                response.setHeader("Access-Control-Allow-Methods", "GET, POST");
                response.setHeader("Access-Control-Allow-Headers", "Authorization, Content-Type");
                response.setHeader("Access-Control-Max-Age", "600");
            }
            response.setStatus(allowed ? 204 : 403);
            return;
        }
        chain.doFilter(request, response);
    }
}
