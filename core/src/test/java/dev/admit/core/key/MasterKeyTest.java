package dev.admit.core.key;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import org.junit.jupiter.api.Test;

class MasterKeyTest {
    private final MasterKey key = new MasterKey(MasterKey.generate());
    private final byte[] plain = "a private key".getBytes(StandardCharsets.UTF_8);

    @Test
    void whatWasSealedOpensUnderItsName() {
        byte[] sealed = key.seal(plain, "key_1");
        assertThat(new String(sealed, StandardCharsets.ISO_8859_1)).doesNotContain("private");
        assertThat(key.open(sealed, "key_1")).isEqualTo(plain);
        assertThat(key.seal(plain, "key_1")).as("no two seals are alike").isNotEqualTo(sealed);
    }

    @Test
    void anotherNameAnotherKeyOrAChangedByteDoesNotOpen() {
        byte[] sealed = key.seal(plain, "key_1");
        assertThatThrownBy(() -> key.open(sealed, "key_2")).isInstanceOf(SigningFault.class);
        assertThatThrownBy(() -> new MasterKey(MasterKey.generate()).open(sealed, "key_1"))
                .isInstanceOf(SigningFault.class);
        sealed[sealed.length - 1] ^= 1;
        assertThatThrownBy(() -> key.open(sealed, "key_1")).isInstanceOf(SigningFault.class);
        assertThatThrownBy(() -> key.open(new byte[3], "key_1")).isInstanceOf(SigningFault.class);
    }

    @Test
    void aSigningKeySurvivesSealingAndShowsItsPublicHalfOnly() {
        SigningKey made = SigningKey.generate(SigningAlgorithm.ES256);
        SigningKey opened = SigningKey.unseal(made.kid(), made.sealWith(key), key);
        assertThat(opened.published()).isEqualTo(made.published());
        assertThat(opened.published().isPrivate()).isFalse();
    }
}
