package dev.admit.server.protocol;

import jakarta.servlet.http.HttpServletRequest;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.core.Ordered;
import org.springframework.http.MediaType;
import org.springframework.stereotype.Component;
import org.springframework.web.HttpRequestHandler;
import org.springframework.web.servlet.HandlerExecutionChain;
import org.springframework.web.servlet.HandlerMapping;
import tools.jackson.databind.json.JsonMapper;

/**
 * Finds the endpoints that clients post forms to, {@code /<issuer>/token} and the like, ahead of all other addresses:
 * looking through the patterns of every controller took an eighth of a token request's CPU time.
 */
@Component
class FormAddresses implements HandlerMapping, Ordered {
    private static final JsonMapper JSON = new JsonMapper();
    private final Map<String, Forms.Deciding> byLastSegment = new HashMap<>();
    private final Forms forms;

    /** An endpoint, or several of one kind. */
    interface Endpoints {
        /** By the last segment of their address. */
        Map<String, Forms.Deciding> byLastSegment();
    }

    FormAddresses(Forms forms, List<Endpoints> endpoints) {
        this.forms = forms;
        endpoints.forEach(some -> byLastSegment.putAll(some.byLastSegment()));
    }

    @Override
    public int getOrder() {
        return HIGHEST_PRECEDENCE;
    }

    @Override
    public @Nullable HandlerExecutionChain getHandler(HttpServletRequest request) {
        String path = request.getRequestURI();
        int last = path.lastIndexOf('/');
        Forms.Deciding deciding = byLastSegment.get(path.substring(last + 1));
        if (deciding == null || last < 2 || path.indexOf('/', 1) != last) return null;
        String issuer = path.substring(1, last);
        return new HandlerExecutionChain((HttpRequestHandler) (asked, answer) -> {
            try {
                forms.handle(issuer, asked, answer, deciding);
            } catch (NoIssuer none) {
                // What Spring does for controllers, and for them alone.
                answer.setStatus(none.getStatusCode().value());
                answer.setContentType(MediaType.APPLICATION_PROBLEM_JSON_VALUE);
                answer.getOutputStream()
                        .write(JSON.writeValueAsBytes(Map.of(
                                "status",
                                none.getStatusCode().value(),
                                "title",
                                "Not Found",
                                "detail",
                                String.valueOf(none.getReason()))));
            }
        });
    }
}
