package dev.admit.core.grant;

import dev.admit.core.clientauth.PresentedClient;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import java.util.List;
import java.util.Optional;

/**
 * A form that a client posts to the token endpoint, or to introspection or revocation, as it came over the wire.
 *
 * @param contentType the media type without parameters, lower-case; empty when there was none
 * @param authorization every Authorization header
 * @param query the raw query; empty when there was none
 * @param body as it came, already bounded
 * @param from the caller's address
 * @param fromBrowser whether a page in a browser sent it
 */
public record FormRequest(
        String method,
        String contentType,
        List<String> authorization,
        String query,
        byte[] body,
        String from,
        boolean fromBrowser) {
    private static final CheckResult FORM = CheckResult.passed("form", "a well-formed request", "one");

    /** Leaves out what may hold secrets. */
    @Override
    public String toString() {
        return "FormRequest[" + method + " from " + from + "]";
    }

    /** A form that was read, and who its sender says to be. */
    public record Read(FormParameters form, PresentedClient presented) {}

    /** What must hold before anybody is authenticated. Empty when a check refused; the decision says which. */
    public Optional<Read> read(Recorder decision) {
        FormParameters form = decision.take(form());
        if (form == null) return Optional.empty();
        PresentedClient presented = decision.take(presented(form));
        return presented == null ? Optional.empty() : Optional.of(new Read(form, presented));
    }

    private Checked<PresentedClient> presented(FormParameters form) {
        PresentedClient presented = PresentedClient.read(
                authorization,
                new PresentedClient.InForm(
                        form.one("client_id"),
                        form.one("client_secret"),
                        form.one("client_assertion_type"),
                        form.one("client_assertion")));
        // RFC 6749 §2.1: what runs in a browser cannot keep a secret, so this one is known to the one who opens the
        // page.
        return fromBrowser && presented instanceof PresentedClient.WithSecret
                ? Checked.refused(
                        "browser",
                        Reason.SECRET_FROM_BROWSER,
                        "a secret that stays on a server",
                        "one sent by a page in a browser",
                        Fix.of("Fetch the token on a server, or register the page as a client of kind browser; "
                                + "replace this secret: everyone who opened the page has it."))
                : Checked.passed(presented);
    }

    private Checked<FormParameters> form() {
        if (!contentType.equals("application/x-www-form-urlencoded"))
            return malformed(
                    Reason.MALFORMED_REQUEST,
                    "a body of application/x-www-form-urlencoded",
                    contentType.isEmpty() ? "no content type" : "another content type",
                    "Send the parameters as a form.");
        if (!query.isEmpty())
            return malformed(
                    Reason.PARAMETER_IN_QUERY,
                    "parameters in the body only",
                    "a query",
                    "Move them to the body: queries are written to logs.");
        return switch (FormParameters.read(body)) {
            case FormParameters.Reading.Malformed(String received) ->
                malformed(Reason.MALFORMED_REQUEST, "a form in percent-encoded UTF-8", received, "Encode it again.");
            case FormParameters.Reading.Good(FormParameters form) ->
                form.repeated("resource").isPresent()
                        ? malformed(
                                Reason.REPEATED_PARAMETER,
                                "each parameter once",
                                "one of them twice",
                                "Remove one; only resource may repeat.")
                        : Checked.passed(form, FORM);
        };
    }

    private static Checked<FormParameters> malformed(Reason reason, String expected, String received, String fix) {
        return Checked.refused("form", reason, expected, received, Fix.of(fix));
    }
}
