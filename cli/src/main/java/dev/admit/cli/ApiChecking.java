package dev.admit.cli;

import dev.admit.contract.CheckingView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

@Command(
        name = "checking",
        description =
                "Print what an API that checks tokens itself needs: the values, and examples that work with them.",
        footer = {
            "",
            "Example: admit api checking tides",
            "Example: admit api checking tides --env > .env",
            "Example: admit api checking tides --code check.py > check.py"
        })
final class ApiChecking implements Runnable {
    @Mixin
    Common common;

    @Parameters(paramLabel = "API")
    String name;

    @Mixin
    Programs programs;

    @Override
    public void run() {
        Admin.Answer<CheckingView> answer =
                common.admin().get(common.path("apis", name, "checking"), CheckingView.class);
        CheckingView it = answer.value();
        programs.tell(
                common.out(),
                it.env(),
                it.code(),
                () -> common.say(answer.json(), () -> {
                    common.out()
                            .fields(
                                    "Issuer",
                                    it.issuer(),
                                    "Keys",
                                    it.jwksUri(),
                                    "Audience",
                                    it.audience(),
                                    "Algorithms",
                                    String.join(" ", it.algorithms()),
                                    "Scopes",
                                    String.join(" ", it.scopes()),
                                    "Introspection",
                                    it.introspectionEndpoint());
                    common.out().notes(it.notes());
                    common.out()
                            .done(
                                    "Examples: " + String.join(", ", it.code().keySet()) + ".",
                                    Http.command("admit api checking %s --code check.py", name));
                }));
    }
}
