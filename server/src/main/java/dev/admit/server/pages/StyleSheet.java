package dev.admit.server.pages;

import dev.admit.core.registry.PeopleSettings;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;

/** How the pages look: Admit's own style, the issuer's accent, and what the owner adds. */
final class StyleSheet {
    private static final String OWN = read();

    private StyleSheet() {}

    static String of(PeopleSettings.Look look) {
        StringBuilder css = new StringBuilder(OWN);
        look.accent()
                .ifPresent(accent -> css.append(("\n:root{--accent:%s;--on-accent:%s}\n@media "
                                + "(prefers-color-scheme:dark){:root{--accent:%s;--on-accent:%s}}\n")
                        .formatted(accent, on(accent), accent, on(accent))));
        look.styleSheet().ifPresent(more -> css.append('\n').append(more).append('\n'));
        return css.toString();
    }

    /** What is readable upon a colour (WCAG 2.2, relative luminance). */
    private static String on(String accent) {
        double luminance = 0.2126 * linear(accent, 1) + 0.7152 * linear(accent, 3) + 0.0722 * linear(accent, 5);
        return (luminance + 0.05) / 0.05 > 1.05 / (luminance + 0.05) ? "#12181F" : "#FFFFFF";
    }

    private static double linear(String accent, int at) {
        double value = Integer.parseInt(accent.substring(at, at + 2), 16) / 255.0;
        return value <= 0.04045 ? value / 12.92 : Math.pow((value + 0.055) / 1.055, 2.4);
    }

    private static String read() {
        try (InputStream in = StyleSheet.class.getResourceAsStream("/pages/pages.css")) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException cause) {
            throw new UncheckedIOException(cause);
        }
    }
}
