package dev.admit.core.person;

import dev.admit.core.registry.SecretHash;
import java.util.List;
import java.util.Optional;

/** What people sign in with, by person. */
public interface Credentials {
    /** The hash of the password; empty while none was chosen. */
    Optional<String> password(String personId);

    void putPassword(String personId, String hash);

    /** The sealed seed of the second factor; empty without one. */
    Optional<byte[]> seed(String personId);

    /** @param sealed empty takes it away, with every recovery code */
    void putSeed(String personId, Optional<byte[]> sealed);

    /**
     * Takes the code of a time step, which nobody can take again.
     *
     * @return whether it was still to be had, and no later one was taken
     */
    boolean takeStep(String personId, long step);

    /** In place of all that were there. */
    void putRecoveryCodes(String personId, List<SecretHash> hashes);

    /**
     * Uses a recovery code up.
     *
     * @return whether it was there
     */
    boolean takeRecoveryCode(String personId, SecretHash hash);

    int recoveryCodesLeft(String personId);
}
