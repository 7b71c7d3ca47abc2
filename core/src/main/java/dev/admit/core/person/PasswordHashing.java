package dev.admit.core.person;

/**
 * A slow hash for what people choose themselves (Argon2id, RFC 9106). So many at once as the machine can bear; the one
 * who comes beyond that waits.
 */
public interface PasswordHashing {
    /** Too many wait already. */
    final class Busy extends RuntimeException {
        public Busy() {
            super("too many passwords are being checked", null, false, false);
        }
    }

    /** @throws Busy when too many wait */
    String hash(String password);

    /** A hash of a password that nobody has: to check against it takes as long as to check against anyone's. */
    String nobodys();

    /**
     * Whether the password is the one that was hashed.
     *
     * @throws Busy when too many wait
     */
    boolean matches(String password, String hash);
}
