package dev.admit.gateway;

import dev.admit.core.decision.Refusal;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Base64;
import java.util.List;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.PreEncodedHttpField;

/**
 * A refusal as a page, for a person who opens a protected address in a browser. Status, challenge and decision are
 * those of the problem details that a program gets.
 */
final class RefusalPage {
    private static final String STYLE = "body{margin:0;background:#f7f5f0;color:#1b2430;font:16px/1.5 "
            + "system-ui,sans-serif}main{max-width:38rem;margin:12vh auto;padding:0 "
            + "1.5rem}h1{font-size:1.5rem;margin:0 0 .75rem}code{font:0.9em "
            + "ui-monospace,monospace}small{color:#5c6570}"
            + "@media(prefers-color-scheme:dark){body{background:#12181f;color:#e8e4da}small{color:#9aa3ad}}";
    private static final HttpField HTML = new PreEncodedHttpField(HttpHeader.CONTENT_TYPE, "text/html; charset=utf-8");
    private static final HttpField POLICY = new PreEncodedHttpField(
            "Content-Security-Policy",
            "default-src 'none'; style-src '" + hash()
                    + "'; frame-ancestors 'none'; form-action 'none'; base-uri 'none'; sandbox");
    private static final HttpField NO_SNIFF = new PreEncodedHttpField("X-Content-Type-Options", "nosniff");
    private static final HttpField VARY = new PreEncodedHttpField(HttpHeader.VARY, "Accept");

    private RefusalPage() {}

    /**
     * Whether a request requests a page rather than for what programs read (RFC 9110 §12.5.1). A program that accepts
     * anything gets problem details.
     */
    static boolean isWanted(HttpFields request) {
        String accept = request.get(HttpHeader.ACCEPT);
        if (accept == null || !accept.contains("text/html")) return false;
        List<String> preferred = request.getQualityCSV(HttpHeader.ACCEPT);
        int page = preferred.indexOf("text/html");
        return page >= 0
                && preferred.stream()
                        .limit(page)
                        .noneMatch(it -> it.contains("json") || it.equals("*/*") || it.startsWith("application/*"));
    }

    /**
     * Sets the headers of the page.
     *
     * @return its bytes
     */
    static byte[] write(Refusal refusal, String decisionId, HttpFields.Mutable headers) {
        headers.put(HTML);
        headers.put(POLICY);
        headers.put(NO_SNIFF);
        headers.add(VARY); // beside Origin, where pages may call
        String title = title(refusal.reason().status());
        return ("<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
                        + "content=\"width=device-width,initial-scale=1\"><title>%1$s</title><style>%2$s</style></head>"
                        + "<body><main><h1>%1$s</h1><p>Expected %3$s; received %4$s.</p><p>%5$s</p><p><small>Decision "
                        + "<code>%6$s</code>. Name it to those who run this "
                        + "address.</small></p></main></body></html>")
                .formatted(
                        title,
                        STYLE,
                        escaped(refusal.expected()),
                        escaped(refusal.received()),
                        escaped(refusal.fix().sentence()),
                        escaped(decisionId))
                .getBytes(StandardCharsets.UTF_8);
    }

    private static String title(int status) {
        return switch (status) {
            case 401 -> "This address wants an access token";
            case 403 -> "This may not be opened with this access token";
            case 404 -> "No page is here";
            case 429 -> "Too many requests received";
            default -> "The request was refused";
        };
    }

    private static String escaped(String text) {
        return text.replace("&", "&amp;")
                .replace("<", "&lt;")
                .replace(">", "&gt;")
                .replace("\"", "&quot;")
                .replace("'", "&#39;");
    }

    private static String hash() {
        try {
            return "sha256-"
                    + Base64.getEncoder()
                            .encodeToString(MessageDigest.getInstance("SHA-256")
                                    .digest(STYLE.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }
}
