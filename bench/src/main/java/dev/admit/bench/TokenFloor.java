package dev.admit.bench;

import dev.admit.core.key.SigningKey;
import dev.admit.core.registry.SecretHash;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.PrivateKey;
import java.security.PublicKey;
import java.security.Signature;
import java.security.spec.ECGenParameterSpec;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/**
 * What the token endpoint is measured against, in the same server: a constant of the same size, one raw ES256 signature
 * and one check of a client secret. And how long one raw verification takes, by the CPU clock of its thread.
 */
@RestController
class TokenFloor {
    private static final byte[] CONSTANT = ("{\"access_token\":\"" + "x".repeat(520)
                    + "\",\"token_type\":\"Bearer\",\"expires_in\":900,\"scope\":\"tides.read\"}")
            .getBytes(StandardCharsets.UTF_8);
    private static final byte[] SIGNED = "x".repeat(430).getBytes(StandardCharsets.UTF_8);

    private final KeyPair pair;
    private final SecretHash hash = SecretHash.of("secret-0");

    TokenFloor() throws GeneralSecurityException {
        KeyPairGenerator generator = KeyPairGenerator.getInstance("EC");
        generator.initialize(new ECGenParameterSpec("secp256r1"));
        pair = generator.generateKeyPair();
        SigningKey.generate(dev.admit.core.key.SigningAlgorithm.ES256); // so that the provider is the one in use
    }

    @PostMapping("/bench-floor/minted")
    void answer(HttpServletRequest request, HttpServletResponse response) throws IOException, GeneralSecurityException {
        request.getInputStream().readAllBytes();
        if (!hash.matches(SecretHash.of("secret-0"))) throw new IllegalStateException();
        sign(pair.getPrivate());
        response.setContentType("application/json");
        response.setHeader("Cache-Control", "no-store");
        response.setContentLength(CONSTANT.length);
        response.getOutputStream().write(CONSTANT);
    }

    private static byte[] sign(PrivateKey key) throws GeneralSecurityException {
        Signature signature = Signature.getInstance("SHA256withECDSAinP1363Format");
        signature.initSign(key);
        signature.update(SIGNED);
        return signature.sign();
    }

    /** Microseconds of CPU for one raw verification, the mean of many. */
    @GetMapping("/bench-floor/verify")
    String verify(@RequestParam int times) throws GeneralSecurityException {
        byte[] signed = sign(pair.getPrivate());
        for (int i = 0; i < times; i++) verify(pair.getPublic(), signed);
        long before = System.nanoTime();
        for (int i = 0; i < times; i++) verify(pair.getPublic(), signed);
        return String.valueOf((System.nanoTime() - before) / 1000.0 / times);
    }

    private static void verify(PublicKey key, byte[] signed) throws GeneralSecurityException {
        Signature signature = Signature.getInstance("SHA256withECDSAinP1363Format");
        signature.initVerify(key);
        signature.update(SIGNED);
        if (!signature.verify(signed)) throw new IllegalStateException();
    }
}
