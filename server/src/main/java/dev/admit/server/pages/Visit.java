package dev.admit.server.pages;

import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Recorder;
import dev.admit.core.grant.FormParameters;
import dev.admit.core.signin.SignIn;
import dev.admit.core.signin.SignedIn;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.util.List;
import java.util.Optional;

/**
 * One request for a page.
 *
 * @param form what was posted, or for a GET its query; empty where it could not be read
 * @param people who are signed in in this browser
 */
record Visit(
        CompiledIssuer issuer,
        SignIn.Browser browser,
        List<SignedIn> people,
        FormParameters form,
        Recorder decision,
        HttpServletRequest request,
        HttpServletResponse response) {

    Optional<SignedIn> person() {
        return people.stream().findFirst();
    }

    /** The path of a page of this issuer. */
    String path(String page) {
        return "/" + issuer.issuer().name() + "/" + page;
    }

    boolean isPost() {
        return request.getMethod().equals("POST");
    }
}
