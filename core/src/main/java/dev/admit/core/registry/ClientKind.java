package dev.admit.core.registry;

import java.util.List;

/** Who runs a client, and so how it can prove itself (RFC 6749 §2.1). */
public enum ClientKind {
    /** A program on a server, acting for nobody but itself. */
    MACHINE(true, false, List.of("client_credentials")),
    /** A web application with a server of its own, which can keep a secret. */
    WEB(true, true, List.of("authorization_code", "refresh_token")),
    /** A single-page application: whatever it knows, the one who opens the page knows. */
    BROWSER(false, true, List.of("authorization_code", "refresh_token")),
    /** An application installed on a person's machine. */
    NATIVE(false, true, List.of("authorization_code", "refresh_token")),
    /** A device without a browser. */
    DEVICE(false, true, List.of("urn:ietf:params:oauth:grant-type:device_code", "refresh_token"));

    private final boolean confidential;
    private final boolean forPeople;
    private final List<String> usualGrantTypes;

    ClientKind(boolean confidential, boolean forPeople, List<String> usualGrantTypes) {
        this.confidential = confidential;
        this.forPeople = forPeople;
        this.usualGrantTypes = usualGrantTypes;
    }

    /** Whether it can keep a credential. */
    public boolean confidential() {
        return confidential;
    }

    /** Whether it acts on a person's behalf. */
    public boolean forPeople() {
        return forPeople;
    }

    /** Whether people are sent back to an address of its own. */
    public boolean hasRedirects() {
        return this == WEB || this == BROWSER || this == NATIVE;
    }

    /** What it may use when its registration does not say. */
    public List<String> usualGrantTypes() {
        return usualGrantTypes;
    }

    @Override
    public String toString() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
