package dev.admit.server;

import java.util.Optional;
import java.util.Set;

/**
 * Where mail is sent.
 *
 * @param tls {@code required} by STARTTLS with the server's name checked, or {@code none}, which is for this machine
 *     only
 */
public record SmtpSettings(
        String host, int port, String tls, Optional<String> user, Optional<String> password, String from) {
    public SmtpSettings {
        if (port < 1 || port > 65535)
            throw new Settings.Senseless("--smtp-port is %d. Give a port from 1 to 65535.".formatted(port));
        if (!Set.of("required", "none").contains(tls))
            throw new Settings.Senseless("--smtp-tls is '%s'. Say required or none.".formatted(tls));
        if (tls.equals("none") && !Set.of("127.0.0.1", "localhost", "::1").contains(host)) {
            throw new Settings.Senseless(
                    ("--smtp-tls is none, and %s is another machine: codes would travel for everyone to read. Leave "
                                    + "it out.")
                            .formatted(host));
        }
        if (from == null || !from.contains("@"))
            throw new Settings.Senseless(
                    "--mail-from is missing, or no address. Give the address that mail comes from.");
        if (user.isPresent() != password.isPresent())
            throw new Settings.Senseless("--smtp-user and ADMIT_SMTP_PASSWORD go together. Give both, or neither.");
    }

    boolean isEncrypted() {
        return tls.equals("required");
    }

    @Override
    public String toString() {
        return "SmtpSettings[%s:%d]".formatted(host, port);
    }
}
