package dev.admit.server;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class Argon2Test {
    private final Argon2 hashing = new Argon2();

    @Test
    void nobodysHashCostsWhatEveryoneElsesDoesAndFitsNoPassword() {
        String somebodys = hashing.hash("sluice-gate-mist-anchor");
        assertThat(parameters(hashing.nobodys()))
                .isEqualTo(parameters(somebodys))
                .startsWith("$argon2id$");
        assertThat(hashing.nobodys()).hasSameSizeAs(somebodys);
        assertThat(hashing.matches("sluice-gate-mist-anchor", somebodys)).isTrue();
        assertThat(hashing.matches("sluice-gate-mist-anchor", hashing.nobodys()))
                .isFalse();
    }

    /** All but the salt and the hash. */
    private static String parameters(String hash) {
        return hash.substring(0, hash.lastIndexOf('$', hash.lastIndexOf('$') - 1));
    }
}
