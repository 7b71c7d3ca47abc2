package dev.admit.server.protocol;

import org.springframework.http.HttpStatus;
import org.springframework.web.server.ResponseStatusException;

/** The address names an issuer that is not here. */
final class NoIssuer extends ResponseStatusException {
    NoIssuer() {
        super(HttpStatus.NOT_FOUND, "No issuer of this name is here. Check the address that the client was given.");
    }
}
