package dev.admit.core.decision;

import java.util.Locale;

/** Every reason Admit has for a refusal: our finer word, the standard's error code, and the HTTP status. */
public enum Reason {
    // The token endpoint: RFC 6749 §5.2, RFC 8707 §2.
    MALFORMED_REQUEST("invalid_request", 400),
    MISSING_PARAMETER("invalid_request", 400),
    REPEATED_PARAMETER("invalid_request", 400),
    PARAMETER_IN_QUERY("invalid_request", 400),
    TWO_AUTHENTICATIONS("invalid_request", 400),
    SECRET_FROM_BROWSER("invalid_request", 400),
    NO_CLIENT_AUTHENTICATION("invalid_client", 401),
    CLIENT_NOT_AUTHENTICATED("invalid_client", 401),
    WRONG_AUTHENTICATION_METHOD("invalid_client", 401),
    SECRET_EXPIRED("invalid_client", 401),
    ASSERTION_UNUSABLE("invalid_client", 401),
    ASSERTION_USED_TWICE("invalid_client", 401),
    TOO_MANY_WRONG_CREDENTIALS("invalid_client", 429),
    CLIENT_SWITCHED_OFF("invalid_client", 401),
    UNKNOWN_GRANT("unsupported_grant_type", 400),
    GRANT_NOT_ALLOWED("unauthorized_client", 400),
    MALFORMED_SCOPE("invalid_scope", 400),
    UNKNOWN_SCOPE("invalid_scope", 400),
    SCOPE_NOT_REQUESTED("invalid_scope", 400),
    SCOPE_NOT_APPROVED("invalid_scope", 400),
    SCOPE_NOT_IN_USE("invalid_scope", 400),
    SCOPE_FOR_PEOPLE("invalid_scope", 400),
    CLAIM_NOT_COMPUTED("invalid_request", 400),
    TOKEN_OF_ANOTHER_CLIENT("invalid_grant", 400),
    SEVERAL_APIS("invalid_scope", 400),
    NO_DEFAULT_SCOPE("invalid_scope", 400),
    UNKNOWN_RESOURCE("invalid_target", 400),
    SCOPE_OF_ANOTHER_API("invalid_target", 400),

    // Codes, refresh tokens and device codes: RFC 6749 §5.2, RFC 8628 §3.5.
    CODE_UNUSABLE("invalid_grant", 400),
    CODE_USED_TWICE("invalid_grant", 400),
    REDIRECT_DIFFERS("invalid_grant", 400),
    VERIFIER_WRONG("invalid_grant", 400),
    REFRESH_TOKEN_UNUSABLE("invalid_grant", 400),
    REFRESH_TOKEN_USED_TWICE("invalid_grant", 400),
    SIGN_IN_ENDED("invalid_grant", 400),
    PERSON_SWITCHED_OFF("invalid_grant", 400),
    NO_SCOPE_LEFT("invalid_grant", 400),
    SCOPE_NOT_GRANTED("invalid_scope", 400),
    RESOURCE_NOT_GRANTED("invalid_target", 400),
    PERSON_HAS_NOT_ANSWERED("authorization_pending", 400),
    ASKED_TOO_OFTEN("slow_down", 400),
    DEVICE_CODE_EXPIRED("expired_token", 400),
    DEVICE_CODE_UNUSABLE("invalid_grant", 400),

    // The authorization endpoint: RFC 6749 §4.1.2.1, OpenID Connect Core §3.1.2.6. The first two are told on a page,
    // never by a redirect.
    UNKNOWN_CLIENT("invalid_request", 400),
    REDIRECT_NOT_REGISTERED("invalid_request", 400),
    NO_SIGN_IN_CLIENT("unauthorized_client", 400),
    RESPONSE_TYPE_NOT_GIVEN("unsupported_response_type", 400),
    NO_CODE_CHALLENGE("invalid_request", 400),
    REQUEST_OBJECT_NOT_TAKEN("request_not_supported", 400),
    REQUEST_URI_NOT_TAKEN("request_uri_not_supported", 400),
    PERSON_NOT_SIGNED_IN("login_required", 400),
    SEVERAL_PEOPLE_SIGNED_IN("account_selection_required", 400),
    PERSON_HAS_NOT_APPROVED("consent_required", 400),
    PERSON_DECLINED("access_denied", 400),
    ADMINISTRATOR_HAS_NOT_APPROVED("access_denied", 400),
    PERSON_LACKS_ROLE("access_denied", 400),
    SIGN_IN_TOO_WEAK("unmet_authentication_requirements", 400),
    TOO_MANY_DEVICE_REQUESTS("slow_down", 429),

    // Clients that register themselves: RFC 7591 §3.2.2.
    REGISTRATION_CLOSED("access_denied", 403),
    NO_INITIAL_ACCESS_TOKEN("", 401),
    INITIAL_ACCESS_TOKEN_UNUSABLE("invalid_token", 401),
    REGISTRATION_ACCESS_TOKEN_UNUSABLE("invalid_token", 401),
    REGISTRATION_STAYS("access_denied", 403),
    CLIENT_METADATA_NOT_TAKEN("invalid_client_metadata", 400),
    REDIRECT_URI_NOT_TAKEN("invalid_redirect_uri", 400),
    SOFTWARE_STATEMENT_NOT_TRUSTED("unapproved_software_statement", 400),
    TOO_MANY_REGISTRATIONS("", 429),

    // Pages for people.
    PERSON_NOT_RECOGNISED("", 401),
    SECOND_FACTOR_WRONG("", 401),
    CODE_FROM_MAIL_WRONG("", 401),

    // A bearer token: RFC 6750 §3.1.
    NO_TOKEN("", 401),
    MALFORMED_AUTHORIZATION("invalid_request", 400),
    TWO_TOKENS("invalid_request", 400),
    TOKEN_IN_QUERY("invalid_request", 400),
    MALFORMED_TOKEN("invalid_token", 401),
    WRONG_TYPE("invalid_token", 401),
    WRONG_ALGORITHM("invalid_token", 401),
    UNKNOWN_CRITICAL_HEADER("invalid_token", 401),
    UNKNOWN_KEY("invalid_token", 401),
    BAD_SIGNATURE("invalid_token", 401),
    WRONG_ISSUER("invalid_token", 401),
    WRONG_AUDIENCE("invalid_token", 401),
    EXPIRED("invalid_token", 401),
    NOT_YET_VALID("invalid_token", 401),
    REVOKED("invalid_token", 401),
    LINKED_CLIENT_OFF("invalid_token", 401),
    SCOPE_CLOSED("invalid_token", 401),
    UNKNOWN_TOKEN("invalid_token", 401),
    INSUFFICIENT_SCOPE("insufficient_scope", 403),
    TOO_MANY_UNKNOWN_TOKENS("invalid_token", 429),
    TOO_OLD("invalid_token", 401),
    TRIAL_TOKEN("invalid_token", 401),
    TOKEN_OF_A_PERSON("invalid_token", 401),
    TRIAL_OF_ADMIN_CLIENT("insufficient_scope", 403),
    ADMIN_ROLE_TOO_LOW("insufficient_scope", 403),
    OTHER_ISSUER("insufficient_scope", 403),
    NOT_OWNER("insufficient_scope", 403),
    PERSON_WANTED("insufficient_scope", 403),
    CLIENT_WANTED("insufficient_scope", 403),
    CLIENT_NOT_NAMED("insufficient_scope", 403),
    ROLE_MISSING("insufficient_scope", 403),
    CONDITION_NOT_MET("insufficient_scope", 403),
    NO_SUBSCRIPTION("", 403),
    SUBSCRIPTION_WAITING("", 403),
    SUBSCRIPTION_PAUSED("", 403),

    // RFC 9470 §3.
    SIGN_IN_NEEDED("", 401),
    FROM_ANOTHER_SITE("", 403),
    SIGN_IN_TOO_OLD("insufficient_user_authentication", 401),
    SIGN_IN_NOT_STRONG_ENOUGH("insufficient_user_authentication", 401),

    // The gateway's own.
    UNSAFE_PATH("invalid_request", 400),
    NO_ROUTE("", 404),
    ORIGIN_NOT_REGISTERED("", 403),
    METHOD_NOT_ALLOWED("", 405),
    BODY_TOO_LARGE("", 413),
    RATE_EXCEEDED("", 429),
    QUOTA_EXCEEDED("", 429),
    TOO_MANY_CONCURRENT("", 429),
    HEADERS_TOO_LARGE("", 431),
    MALFORMED_HTTP("invalid_request", 400);

    private final String error;
    private final int status;
    private final String word = name().toLowerCase(Locale.ROOT).replace('_', '-');

    Reason(String error, int status) {
        this.error = error;
        this.status = status;
    }

    /** The standard's error code; empty where the standard wants none (RFC 6750 §3.1, last paragraph). */
    public String error() {
        return error;
    }

    /** The HTTP status that goes with it. */
    public int status() {
        return status;
    }

    /** Our word for it, which never changes: {@code wrong-audience}. */
    @Override
    public String toString() {
        return word;
    }

    /** The reason that a word stands for. */
    public static java.util.Optional<Reason> of(String word) {
        return java.util.Arrays.stream(values())
                .filter(reason -> reason.word.equals(word))
                .findFirst();
    }
}
