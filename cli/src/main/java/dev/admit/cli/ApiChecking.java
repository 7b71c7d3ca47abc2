package dev.admit.cli;

import dev.admit.contract.CheckingView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(name = "checking", description = "Print what an API that checks tokens itself needs: the values, and examples that work with them.",
        footer = {"", "Example: admit api checking tides", "Example: admit api checking tides --env > .env", "Example: admit api checking tides --code check.py > check.py"})
final class ApiChecking implements Runnable {
    @Mixin Common common;
    @Parameters(paramLabel = "API") String name;
    @Option(names = "--env", description = "The values as a .env file, and nothing else.") boolean env;
    @Option(names = "--code", paramLabel = "FILE", description = "One example, and nothing else: Check.java, check.mjs or check.py.") String code;

    @Override public void run() {
        Admin.Answer<CheckingView> answer = common.admin().get(common.path("apis", name, "checking"), CheckingView.class);
        CheckingView it = answer.value();
        if (env) {
            common.out().line(it.env().stripTrailing());
        } else if (code != null) {
            if (!it.code().containsKey(code)) throw new Failure(Failure.WRONG_USAGE, "--code is '%s'. Choose one of: %s.".formatted(code, String.join(", ", it.code().keySet())));
            common.out().line(it.code().get(code).stripTrailing());
        } else {
            common.say(answer.json(), () -> {
                common.out().fields("Issuer", it.issuer(), "Keys", it.jwksUri(), "Audience", it.audience(), "Algorithms", String.join(" ", it.algorithms()), "Scopes", String.join(" ", it.scopes()),
                        "Introspection", it.introspectionEndpoint());
                common.out().notes(it.notes());
                common.out().done("Examples: " + String.join(", ", it.code().keySet()) + ".", "admit api checking %s --code check.py".formatted(name));
            });
        }
    }
}
