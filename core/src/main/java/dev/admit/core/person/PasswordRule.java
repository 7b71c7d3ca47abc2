package dev.admit.core.person;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Which passwords may be chosen: long enough, and none of those that everybody tries first. No rule about kinds of
 * characters (NIST SP 800-63B §3.1.1.2).
 */
public final class PasswordRule {
    public static final int SHORTEST = 10;
    public static final int LONGEST = 200;
    private static final Set<String> COMMON = read();

    private PasswordRule() {}

    private static Set<String> read() {
        try (BufferedReader lines = new BufferedReader(new InputStreamReader(
                PasswordRule.class.getResourceAsStream("/common-passwords.txt"), StandardCharsets.UTF_8))) {
            return lines.lines()
                    .filter(line -> !line.isBlank() && !line.startsWith("#"))
                    .collect(Collectors.toUnmodifiableSet());
        } catch (IOException cause) {
            throw new UncheckedIOException(cause);
        }
    }

    /** What is wrong with it, as a sentence with what to do; empty when it can be taken. */
    public static Optional<String> faultOf(String password, String email, String issuer) {
        int length = password.codePointCount(0, password.length());
        if (length < SHORTEST)
            return Optional.of(
                    "The password has %d characters. Choose one of at least %d; a few words together are good."
                            .formatted(length, SHORTEST));
        if (length > LONGEST)
            return Optional.of("The password has %d characters. Choose one of at most %d.".formatted(length, LONGEST));
        String lower = password.toLowerCase(Locale.ROOT).replaceAll("\\s+", "");
        if (lower.chars().distinct().count() < 4)
            return Optional.of("The password repeats a few characters. Choose one that nobody tries first.");
        Set<String> disguised = new java.util.HashSet<>(
                List.of(lower, plain(lower), stem(lower), plain(stem(lower)), stem(plain(lower))));
        if (disguised.stream().anyMatch(it -> COMMON.contains(it) || COMMON.contains(once(it)))) {
            return Optional.of(
                    "The password is one of those that are tried first. Choose another; a few words together are "
                            + "good.");
        }
        String local = email.contains("@") ? email.substring(0, email.indexOf('@')) : email;
        if (disguised.stream()
                .filter(it -> !it.isEmpty())
                .anyMatch(it -> it.equals(local) || it.equals(stem(local)) || it.equals(email) || it.equals(issuer))) {
            return Optional.of(
                    "The password is made of your address or of where you sign in. Choose one that nobody tries "
                            + "first.");
        }
        return Optional.empty();
    }

    /** Without the figures and signs that are put around a word. */
    private static String stem(String text) {
        return text.replaceAll("[^a-z]+$", "").replaceAll("^[^a-z]+", "");
    }

    /** The half of what is the same twice. */
    private static String once(String text) {
        String half = text.substring(0, text.length() / 2);
        return text.equals(half + half) ? half : text;
    }

    /** Without what people put in for letters: passw0rd is password. */
    private static String plain(String text) {
        return text.replace('0', 'o')
                .replace('1', 'i')
                .replace('3', 'e')
                .replace('4', 'a')
                .replace('5', 's')
                .replace('7', 't')
                .replace('@', 'a')
                .replace('$', 's')
                .replace('!', 'i');
    }
}
