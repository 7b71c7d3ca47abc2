package dev.admit.server.console;

import dev.admit.core.change.RandomBits;
import dev.admit.server.PublicOrigin;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpFilter;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Pattern;

/**
 * The console's files, as the build compressed them. Their names hold a hash of what is in them, so browsers keep them
 * for a year; the page itself is requested anew each time. What is no file is a page, which the script in it draws.
 */
final class ConsoleFiles extends HttpFilter {
    private static final Pattern ASSET = Pattern.compile("[A-Za-z0-9_-]+(\\.[A-Za-z0-9_-]+)*\\.(js|css|svg|woff2)");
    private static final Map<String, String> ENDINGS = Map.of("br", ".br", "gzip", ".gz");
    private static final Map<String, String> TYPES = Map.of(
            "js",
            "text/javascript;charset=utf-8",
            "css",
            "text/css;charset=utf-8",
            "svg",
            "image/svg+xml",
            "woff2",
            "font/woff2");
    /**
     * Nothing from elsewhere; no script but the files, no style but them and the one element that keeps a page from
     * scrolling behind a window, by its word.
     */
    @SuppressWarnings("InlineFormatString") // long, and worth a name
    private static final String POLICY =
            "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-%s'; img-src 'self' data:; font-src "
                    + "'self'; connect-src 'self'; frame-src 'self'; form-action 'self'; "
                    + "frame-ancestors 'none'; base-uri 'none'; require-trusted-types-for 'script'; trusted-types "
                    + "'none'";

    /** In the page, where the word of each answer goes. */
    private static final String NONCE = "NONCE";

    private final transient PublicOrigin origin;
    private final transient Map<String, Optional<byte[]>> read = new ConcurrentHashMap<>();

    ConsoleFiles(PublicOrigin origin) {
        this.origin = origin;
    }

    @Override
    protected void doFilter(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws IOException, ServletException {
        String path = request.getRequestURI();
        boolean own = path.startsWith(ConsoleAddresses.OWN + "/");
        if (own && !path.startsWith(ConsoleAddresses.ASSETS)) {
            chain.doFilter(request, response);
            return;
        }
        response.setHeader("X-Content-Type-Options", "nosniff");
        if (!request.getMethod().equals("GET") && !request.getMethod().equals("HEAD")) {
            response.setHeader("Allow", "GET, HEAD");
            response.setStatus(405);
            return;
        }
        if (own) asset(path.substring(ConsoleAddresses.ASSETS.length()), request, response);
        else page(request, response);
    }

    private void asset(String name, HttpServletRequest request, HttpServletResponse response) throws IOException {
        if (!ASSET.matcher(name).matches() || file("assets/" + name).isEmpty()) {
            response.setStatus(404);
            return;
        }
        response.setContentType(TYPES.get(name.substring(name.lastIndexOf('.') + 1)));
        response.setHeader("Cache-Control", "public, max-age=31536000, immutable");
        send("assets/" + name, request, response);
    }

    private void page(HttpServletRequest request, HttpServletResponse response) throws IOException {
        // Its cookie and the issuers' belong to one host: a person who comes by the other name of this machine is shown
        // the way.
        String host = request.getHeader("Host");
        if (host != null
                && host.equals("localhost:" + origin.url().getPort())
                && "127.0.0.1".equals(origin.url().getHost())) {
            ConsoleSignIn.redirect(response, origin + request.getRequestURI());
            return;
        }
        if (file("index.html").isEmpty()) {
            response.setStatus(404);
            response.setContentType("text/plain;charset=utf-8");
            response.getOutputStream()
                    .print("The console was not built with this service. Build it with: mvn package\n");
            return;
        }
        response.setContentType("text/html;charset=utf-8");
        response.setHeader("Cache-Control", "no-store");
        String nonce = RandomBits.text(32);
        response.setHeader("Content-Security-Policy", POLICY.formatted(nonce));
        response.setHeader("X-Frame-Options", "DENY");
        response.setHeader("Referrer-Policy", "no-referrer");
        response.setHeader("Cross-Origin-Opener-Policy", "same-origin");
        response.setHeader("Permissions-Policy", "camera=(), geolocation=(), microphone=()");
        byte[] html = new String(file("index.html").get(), StandardCharsets.UTF_8)
                .replace(NONCE, nonce)
                .getBytes(StandardCharsets.UTF_8);
        response.setContentLength(html.length);
        if (!request.getMethod().equals("HEAD")) response.getOutputStream().write(html);
    }

    private void send(String file, HttpServletRequest request, HttpServletResponse response) throws IOException {
        String accepted =
                Optional.ofNullable(request.getHeader("Accept-Encoding")).orElse("");
        byte[] bytes = file(file).orElseThrow();
        response.setHeader("Vary", "Accept-Encoding");
        for (String coding : List.of("br", "gzip")) {
            Optional<byte[]> smaller = accepted.contains(coding) ? file(file + ENDINGS.get(coding)) : Optional.empty();
            if (smaller.isEmpty()) continue;
            response.setHeader("Content-Encoding", coding);
            bytes = smaller.get();
            break;
        }
        response.setContentLength(bytes.length);
        if (!request.getMethod().equals("HEAD")) response.getOutputStream().write(bytes);
    }

    /** Only names that the pattern takes and those of this class come here. */
    private Optional<byte[]> file(String name) throws IOException {
        Optional<byte[]> before = read.get(name);
        if (before != null) return before;
        try (InputStream in = ConsoleFiles.class.getResourceAsStream("/admit-console/" + name)) {
            if (in == null) return Optional.empty(); // not remembered: names come from outside
            Optional<byte[]> found = Optional.of(in.readAllBytes());
            read.put(name, found);
            return found;
        }
    }
}
