package dev.admit.core.registry;

import dev.admit.core.change.Fields;
import java.net.URI;
import java.net.URISyntaxException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Reads the redirect URIs and origins of a client. What is refused here would hand codes or tokens to another person.
 */
public final class ClientAddresses {
    private static final Set<String> LOOPBACK = Set.of("127.0.0.1", "[::1]", "localhost");
    /** Schemes that run or show something by themselves, or belong to other protocols (RFC 9700 §4.11). */
    private static final Set<String> NEVER = Set.of(
            "javascript",
            "data",
            "vbscript",
            "file",
            "blob",
            "about",
            "filesystem",
            "ftp",
            "ftps",
            "ws",
            "wss",
            "mailto",
            "tel",
            "sms",
            "urn",
            "view-source",
            "chrome",
            "intent",
            "jar",
            "ldap",
            "ssh");

    private static final int MOST = 50;

    private final Fields fields;
    private final ClientKind kind;
    private final boolean development;

    /** @param development whether plain http on loopback is let in for clients that are not native */
    public ClientAddresses(Fields fields, ClientKind kind, boolean development) {
        this.fields = fields;
        this.kind = kind;
        this.development = development;
    }

    /**
     * @param redirects null for the old ones
     * @param origins null for the old ones
     */
    public Client.Addresses read(
            @Nullable List<String> redirects, @Nullable List<String> origins, Client.Addresses old) {
        List<String> wanted = redirects != null ? redirects : old.redirects();
        List<String> wantedOrigins = origins != null ? origins : old.origins();
        if (!wanted.isEmpty() && !kind.hasRedirects()) {
            fields.fault(
                    "/redirect_uris",
                    "none, because nobody is sent back to a client of kind " + kind,
                    wanted.size() + " of them",
                    "Leave them out, or register another kind.");
        }
        if (!wantedOrigins.isEmpty() && kind != ClientKind.BROWSER) {
            fields.fault(
                    "/origins",
                    "none, because only clients of kind browser call from a page",
                    wantedOrigins.size() + " of them",
                    "Leave them out.");
        }
        return new Client.Addresses(
                each("/redirect_uris", wanted, this::redirect), each("/origins", wantedOrigins, this::origin));
    }

    /** Where people may be sent after they signed out (RP-Initiated Logout §3.1): as strict as where codes are sent. */
    public List<String> readAfterSignOut(List<String> wanted) {
        if (!wanted.isEmpty() && !kind.hasRedirects()) {
            fields.fault(
                    "/post_logout_redirect_uris",
                    "none, because nobody is sent back to a client of kind " + kind,
                    wanted.size() + " of them",
                    "Leave them out, or register another kind.");
        }
        return each("/post_logout_redirect_uris", wanted, this::redirect);
    }

    private interface Reading {
        Optional<String> read(String pointer, String text);
    }

    private List<String> each(String pointer, List<String> wanted, Reading reading) {
        if (wanted.size() > MOST)
            fields.fault(pointer, "at most " + MOST, wanted.size() + " of them", "Keep those that are used.");
        List<String> read = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++) {
            String received = wanted.get(i) == null ? "" : wanted.get(i);
            String trimmed = received.strip();
            if (!trimmed.equals(received) && !trimmed.isEmpty())
                fields.note("Spaces around %s/%d were taken off.".formatted(pointer.substring(1), i));
            reading.read(pointer + "/" + i, trimmed)
                    .filter(address -> !read.contains(address))
                    .ifPresent(read::add);
        }
        return read;
    }

    /**
     * RFC 6749 §3.1.2, RFC 8252 §7 and §8.4, RFC 9700 §2.1 and §2.6. Stored as it came, because it is compared as a
     * string.
     */
    private Optional<String> redirect(String pointer, String text) {
        Optional<URI> parsed = parsed(text);
        if (parsed.isEmpty() || parsed.get().getScheme() == null)
            return fault(
                    pointer,
                    "an absolute URI",
                    text,
                    "Give the whole address, such as https://desk.saltmarsh.example/back.");
        URI uri = parsed.get();
        String scheme = uri.getScheme().toLowerCase(Locale.ROOT);
        if (text.contains("*"))
            return fault(pointer, "one exact address, without a wildcard", text, "Register each address that is used.");
        if (uri.getRawFragment() != null)
            return fault(pointer, "an address without a fragment", text, "Take off what begins with #.");
        if (uri.getRawUserInfo() != null)
            return fault(pointer, "an address without a login", text, "Take the login out.");
        boolean loopback = uri.getHost() != null && LOOPBACK.contains(uri.getHost());
        return switch (scheme) {
            case "https" ->
                uri.getHost() == null ? fault(pointer, "a host", text, "Name the host.") : Optional.of(text);
            case "http" -> plainHttp(pointer, text, loopback);
            // RFC 8252 §7.1: a private scheme is a domain name turned around, so that two applications do not claim the
            // same one.
            default ->
                kind == ClientKind.NATIVE && !NEVER.contains(scheme) && !scheme.startsWith(".")
                        ? privateUse(text, scheme)
                        : fault(
                                pointer,
                                kind == ClientKind.NATIVE
                                        ? "https, http on loopback, or a scheme such as org.saltmarsh.pilot:"
                                        : "an https address",
                                text,
                                "Choose such an address.");
        };
    }

    /** Whether an address could be registered as a redirect URI of a client of this kind. */
    public static boolean couldBeRegistered(String address, ClientKind kind, Issuer issuer) {
        return kind.hasRedirects()
                && new ClientAddresses(new Fields(), kind, issuer.settings().loopbackRedirects())
                        .redirect("", address)
                        .isPresent();
    }

    private Optional<String> privateUse(String text, String scheme) {
        if (!scheme.contains("."))
            fields.note(("%s: is a scheme that any application can claim too; RFC 8252 §7.1 wants a domain name turned "
                            + "around, such as org.saltmarsh.pilot:.")
                    .formatted(scheme));
        return Optional.of(text);
    }

    private Optional<String> plainHttp(String pointer, String text, boolean loopback) {
        if (!loopback)
            return fault(
                    pointer,
                    "https; plain http only on 127.0.0.1, [::1] or localhost",
                    text,
                    "Serve the address by https.");
        if (kind == ClientKind.NATIVE) return Optional.of(text);
        if (!development) {
            return fault(
                    pointer,
                    "https, because this issuer lets no development addresses in",
                    text,
                    "Use https, or have the issuer allow development addresses.");
        }
        fields.note("%s is an address for development: plain http on loopback.".formatted(text));
        return Optional.of(text);
    }

    /** An origin (RFC 6454 §6.2): scheme, host and port, nothing behind them. */
    private Optional<String> origin(String pointer, String text) {
        String expected =
                "an origin such as https://board.saltmarsh.example: scheme, host, perhaps a port, nothing behind";
        Optional<URI> parsed = parsed(text);
        if (parsed.isEmpty() || parsed.get().getHost() == null || parsed.get().getRawUserInfo() != null)
            return fault(pointer, expected, text, "Give it so.");
        URI uri = parsed.get();
        boolean bare = (uri.getRawPath() == null
                        || uri.getRawPath().isEmpty()
                        || uri.getRawPath().equals("/"))
                && uri.getRawQuery() == null
                && uri.getRawFragment() == null;
        boolean safe =
                "https".equals(uri.getScheme()) || "http".equals(uri.getScheme()) && LOOPBACK.contains(uri.getHost());
        if (!bare || !safe)
            return fault(
                    pointer,
                    expected,
                    text,
                    safe ? "Take off what stands behind host and port." : "Serve the page by https.");
        String origin = uri.getScheme() + "://" + uri.getHost().toLowerCase(Locale.ROOT)
                + (uri.getPort() < 0 ? "" : ":" + uri.getPort());
        if (!origin.equals(text)) fields.note("%s is kept as the origin %s.".formatted(text, origin));
        return Optional.of(origin);
    }

    private static Optional<URI> parsed(String text) {
        try {
            return text.isEmpty() || text.length() > Fields.URI_LENGTH ? Optional.empty() : Optional.of(new URI(text));
        } catch (URISyntaxException notOne) {
            return Optional.empty();
        }
    }

    private Optional<String> fault(String pointer, String expected, String received, String fix) {
        fields.fault(pointer, expected, received.isEmpty() ? "nothing" : Fields.quoted(received), fix);
        return Optional.empty();
    }
}
