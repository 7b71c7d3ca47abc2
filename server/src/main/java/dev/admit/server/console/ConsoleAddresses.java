package dev.admit.server.console;

/** Where the console is, and its own addresses below that; {@code _} is no name that an issuer could have. */
public final class ConsoleAddresses {
    static final String CONSOLE = "/console";
    static final String OWN = CONSOLE + "/_";
    static final String API = OWN + "/api";
    static final String ASSETS = OWN + "/assets/";
    static final String SIGN_IN = OWN + "/sign-in";
    static final String SIGNED_IN = OWN + "/signed-in";
    static final String SIGN_OUT = OWN + "/sign-out";
    static final String SESSION = OWN + "/session";
    static final String FIRST = OWN + "/first";
    static final String TRY = OWN + "/try";
    /** Where the answer to a trial sign-in goes: see {@link dev.admit.core.authorize.TrialSignIns}. */
    public static final String TRIED = OWN + "/tried";

    private ConsoleAddresses() {}
}
