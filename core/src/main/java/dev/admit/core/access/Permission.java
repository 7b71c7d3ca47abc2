package dev.admit.core.access;

/**
 * Who may use one endpoint of the admin API. Each endpoint declares its own; an endpoint without one is used by nobody.
 *
 * @param least the lowest admin role that may
 * @param of whose people may
 * @param owner which owners may as well, without an admin role
 */
public record Permission(AdminRole least, Of of, OwnerOf owner) {

    public enum Of {
        /** The people of the issuer that the address names, and those of the service's own issuer. */
        ISSUER,
        /** The people of the service's own issuer alone. */
        SERVICE,
        /** The people of every issuer. The endpoint answers with what belongs to theirs. */
        ANY
    }

    /** What a person must own, for the endpoint to be theirs. */
    public enum OwnerOf {
        NOTHING,
        /** Anything at all. The endpoint answers with what is theirs. */
        ANYTHING,
        /** The API that the address names. */
        API,
        /** The client that the address names. */
        CLIENT,
        /** The API of the route that the address names. */
        ROUTE_API,
        /** The client of the approval that the address names. */
        APPROVAL_CLIENT,
        /** The API of the approval that the address names. */
        APPROVAL_API,
        /** The client or the API of the approval that the address names. */
        APPROVAL,
        /** Every API of the plan that the address names. */
        PLAN,
        /** An API of the plan that the address names. */
        PLAN_PART,
        /** The client of the subscription that the address names. */
        SUBSCRIPTION_CLIENT,
        /** An API of the plan that the subscription is to. */
        SUBSCRIPTION_PLAN,
        /** An API of the plan that the subscription waits for. */
        SUBSCRIPTION_REQUEST,
        /** The client of the subscription, or an API of its plan. */
        SUBSCRIPTION
    }
}
