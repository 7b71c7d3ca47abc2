package dev.admit.core.registry;

/** How a client proves itself at the token endpoint (RFC 7591 §2, token_endpoint_auth_method). */
public enum ClientAuthMethod {
    CLIENT_SECRET_BASIC,
    CLIENT_SECRET_POST,
    PRIVATE_KEY_JWT,
    NONE;

    public boolean hasSecret() {
        return this == CLIENT_SECRET_BASIC || this == CLIENT_SECRET_POST;
    }

    @Override
    public String toString() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
