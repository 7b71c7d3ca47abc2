package dev.admit.cli;

import dev.admit.contract.ClientView;
import dev.admit.contract.SecretOnce;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

/** How a secret that was just made is shown, the one time it can be. */
final class ShownSecret {
    @Option(names = "--keep", description = "Keep the secret on this machine, for admit token fetch and admit call.")
    boolean keep;

    @Option(names = "--env", description = "Print the settings as a .env file, and nothing else.")
    boolean env;

    @Option(
            names = "--code",
            paramLabel = "WORD",
            description =
                    "Print beside it a few lines that fetch a token with those settings: java, javascript or python.")
    String code;

    /**
     * @param secret null for a client that has none
     * @param words what is said around it
     */
    void show(Common common, JsonNode json, ClientView client, @Nullable SecretOnce secret, Runnable words) {
        if (secret != null && keep) SecretCommands.keep(common, client, secret);
        if (secret != null && env) {
            common.out().line(secret.env().stripTrailing());
            return;
        }
        common.say(json, () -> {
            if (secret != null) tell(common.out(), secret);
            if (secret != null && code != null) tellCode(common.out(), secret);
            words.run();
        });
    }

    static void tell(Output out, SecretOnce secret) {
        out.line("");
        out.line(out.strong("The secret is shown now and never again:"));
        out.fields(
                "Secret",
                secret.secret(),
                "Ends",
                secret.expiresAt() == null ? "never" : Output.exact(secret.expiresAt()));
        if (secret.authorization() != null) out.line("Authorization: " + secret.authorization());
        out.line(secret.curl());
        out.line("");
    }

    private void tellCode(Output out, SecretOnce secret) {
        String lines = secret.code().get(code);
        // The secret is made by now, so a word that is none takes nothing of it away.
        if (lines == null)
            out.line("Note: --code is '%s'; there is %s."
                    .formatted(code, String.join(", ", secret.code().keySet())));
        else out.line(secret.env() + "\n" + lines);
    }
}
