package dev.admit.cli;

import dev.admit.contract.ExplainWanted;
import dev.admit.contract.Explained;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
        name = "explain",
        description = "Say in sentences why a request was let through or refused, and how to fix it; also for one that "
                + "was never sent.",
        footer = {
            "",
            "Example: admit explain dec_…",
            "Example: admit explain GET /tides/north-quay --token \"$TOKEN\"",
            "Example: admit explain GET /tides/north-quay --as night-audit"
        })
final class Explain implements Runnable {
    @Mixin
    Common common;

    @Mixin
    TokenCommands.AsClient as;

    @Parameters(index = "0", paramLabel = "DECISION|METHOD")
    String first;

    @Parameters(index = "1", paramLabel = "PATH", arity = "0..1")
    String path;

    @Option(names = "--token", description = "That the request would carry; - reads it from standard input.")
    String token;

    @Option(names = "--host", description = "That the request would be for, where routes name hosts.")
    String host;

    @Option(names = "--as", paramLabel = "CLIENT", description = "Fetch a token as this client.")
    String client;

    @Override
    public void run() {
        Admin.Answer<Explained> answer;
        if (path == null) {
            if (token != null || client != null)
                throw new Failure(Failure.WRONG_USAGE, "Say a method and a path with a token, or a decision alone.");
            answer = common.admin().get("/decisions/" + Http.encoded(first) + "/explained", Explained.class);
        } else {
            String sent = client != null
                    ? as.fetch(common, client).path("access_token").asString()
                    : "-".equals(token) ? common.readSecret("Token") : token;
            answer = common.admin()
                    .post(common.path("explain"), new ExplainWanted(first, host, path, sent), Explained.class);
        }
        common.say(answer.json(), () -> {
            common.out().line(common.out().verdict(answer.value().decision().verdict()));
            answer.value().sentences().forEach(sentence -> common.out().line(Output.plain(sentence)));
        });
    }
}
