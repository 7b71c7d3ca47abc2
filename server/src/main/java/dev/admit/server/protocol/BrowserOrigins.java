package dev.admit.server.protocol;

import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Clients;
import dev.admit.core.change.Page;
import dev.admit.core.configuration.LiveConfiguration;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Duration;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.LoadingCache;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Lets pages of browser clients call the endpoints that they need from their own origin, and nobody else's (CORS). Metadata and keys are
 * for everyone. No cookie is ever let through, so nothing here acts for a person who is signed in.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE + 10)
class BrowserOrigins extends OncePerRequestFilter {
    private static final Set<String> FOR_CLIENTS = Set.of("token", "revoke", "userinfo");
    private static final Set<String> FOR_ALL = Set.of("jwks", "openid-configuration", "oauth-authorization-server");

    private final LoadingCache<String, Set<String>> origins;

    BrowserOrigins(Clients clients, LiveConfiguration configuration) {
        // A second at most passes until an origin that was just registered, or taken out, is known here.
        origins = Caffeine.newBuilder().maximumSize(10_000).expireAfterWrite(Duration.ofSeconds(1))
                .build(issuer -> configuration.get().issuer(issuer).map(found -> read(clients, found.issuer().id())).orElse(Set.of()));
    }

    private static Set<String> read(Clients clients, String issuerId) {
        Set<String> all = new HashSet<>();
        Clients.Wanted wanted = new Clients.Wanted("", Optional.of(ClientKind.BROWSER), Optional.empty(), Optional.empty(), Optional.of(true), false);
        Optional<String> after = Optional.empty();
        do {
            Page<Client> page = clients.list(issuerId, wanted, new Page.Ask(after, Page.Ask.MOST));
            page.items().forEach(client -> all.addAll(client.addresses().origins()));
            after = page.next();
        } while (after.isPresent());
        return all;
    }

    @Override protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain) throws ServletException, IOException {
        String origin = request.getHeader("Origin");
        String[] path = request.getRequestURI().split("/", 4);
        String last = request.getRequestURI().substring(request.getRequestURI().lastIndexOf('/') + 1);
        boolean known = path.length >= 3 && (FOR_CLIENTS.contains(last) || FOR_ALL.contains(last) || request.getRequestURI().startsWith("/.well-known/"));
        if (origin == null || !known) {
            chain.doFilter(request, response);
            return;
        }
        boolean forAll = !FOR_CLIENTS.contains(last);
        boolean allowed = forAll || origins.get(path[1]).contains(origin);
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
