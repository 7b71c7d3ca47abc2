package dev.admit.server;

import com.amazon.corretto.crypto.provider.AmazonCorrettoCryptoProvider;

/**
 * Puts the fast cryptography provider first where the platform has it; elsewhere the JDK's own does the same work,
 * slower.
 */
final class FastCrypto {
    private FastCrypto() {}

    static void install() {
        try {
            if (AmazonCorrettoCryptoProvider.INSTANCE.getLoadingError() == null) AmazonCorrettoCryptoProvider.install();
        } catch (LinkageError noneForThisPlatform) {
            org.slf4j.LoggerFactory.getLogger(FastCrypto.class)
                    .info("no fast cryptography on this platform; the JDK's is used");
        }
    }
}
