package dev.admit.core.access;

import java.util.Set;

/** The names by which the admin API itself is protected: an API like any other, of the service's own issuer. */
public final class AdminApi {
    /** The service's own issuer. Its people and clients run the service; those of another issuer run that issuer. */
    public static final String ISSUER = "admit";
    /** The API's name at that issuer. */
    public static final String NAME = "admin";
    /** A client with this scope sees what an auditor of the service sees. */
    public static final String READ = "admin.read";
    /** A client with this scope may do what an administrator of the service may. */
    public static final String CHANGE = "admin.change";
    /** Under this scope, of each issuer's own, a client runs Admit for a person, as far as the person may. */
    public static final String RUN = "admit:run";
    /** The scopes of the API itself. */
    public static final Set<String> SCOPES = Set.of(READ, CHANGE);

    private AdminApi() {}
}
