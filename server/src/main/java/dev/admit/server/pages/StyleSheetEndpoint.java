package dev.admit.server.pages;

import dev.admit.core.configuration.LiveConfiguration;
import java.time.Duration;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;

/** The style sheet of an issuer's pages; its address changes with it. */
@Controller
class StyleSheetEndpoint {
    private final LiveConfiguration configuration;

    StyleSheetEndpoint(LiveConfiguration configuration) {
        this.configuration = configuration;
    }

    @GetMapping("/{issuer}/pages.css")
    ResponseEntity<String> style(@PathVariable String issuer) {
        return configuration
                .get()
                .issuer(issuer)
                .map(it -> ResponseEntity.ok()
                        .contentType(MediaType.valueOf("text/css;charset=UTF-8"))
                        .cacheControl(CacheControl.maxAge(Duration.ofDays(365)).immutable())
                        .header("X-Content-Type-Options", "nosniff")
                        .body(StyleSheet.of(it.issuer().settings().people().look())))
                .orElse(ResponseEntity.notFound().build());
    }
}
