package dev.admit.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

@Command(
        name = "call",
        description = "Call a route through the gateway, as a client or without a token.",
        footer = {
            "",
            "Example: admit call GET /tides/north-quay --as tide-buoy-07",
            "",
            "Exit code 0 for an answer below 400, 1 for a refusal, 4 for 500 and above."
        })
final class Call implements Callable<Integer> {
    /** A body up to this length is not spread over many lines. */
    private static final int SHORT = 500;

    @Mixin
    Common common;

    @Mixin
    TokenCommands.AsClient as;

    @Parameters(index = "0", paramLabel = "METHOD")
    String method;

    @Parameters(index = "1", paramLabel = "PATH")
    String path;

    @Option(names = "--as", paramLabel = "CLIENT", description = "Fetch a token as this client and send it.")
    String client;

    @Option(
            names = "--trial",
            paramLabel = "CLIENT",
            description = "Have a trial token of this client made and send it.")
    String trial;

    @Option(names = "--token", description = "Send this token instead.")
    String token;

    @Option(
            names = {"-d", "--data"},
            paramLabel = "BODY",
            description = "The body; @FILE for a file's.")
    String data;

    @Option(names = "--header", paramLabel = "'NAME: VALUE'", description = "One more header; may be said again.")
    List<String> headers = List.of();

    @Option(names = "--curl", description = "Print the request as one line of curl, with its token, and send nothing.")
    boolean curl;

    /** Plain options on one line, so that other HTTP clients import it. */
    private String curlLine(String url, Map<String, String> all) {
        StringBuilder line = new StringBuilder("curl -s -i -X ").append(method.toUpperCase(Locale.ROOT));
        all.forEach((name, value) -> line.append(" -H ").append(Http.shell(name + ": " + value)));
        if (data != null) line.append(" --data-raw ").append(Http.shell(body()));
        return line.append(' ').append(Http.shell(url)).toString();
    }

    @Override
    public Integer call() {
        Map<String, String> all = new LinkedHashMap<>();
        if (data != null) all.put("Content-Type", "application/json");
        for (String header : headers) {
            int colon = header.indexOf(':');
            if (colon < 1)
                throw new Failure(
                        Failure.WRONG_USAGE, "A header is written 'NAME: VALUE', not '%s'.".formatted(header));
            all.put(
                    header.substring(0, colon).strip(),
                    header.substring(colon + 1).strip());
        }
        Contradiction.refuse("--as", client != null, "--trial", trial != null);
        Contradiction.refuse("--as", client != null, "--token", token != null);
        Contradiction.refuse("--trial", trial != null, "--token", token != null);
        String target = path.startsWith("/") ? path : "/" + path;
        if (client != null || trial != null)
            as.takeWhatTheRouteNeeds(common, client != null ? client : trial, method, target);
        if (client != null)
            token = as.fetch(common, client).path("access_token").asString();
        if (trial != null)
            token = TokenCommands.TrialToken.make(common, trial, as.scope, as.resource)
                    .token();
        if (token != null) all.put("Authorization", "Bearer " + token);
        String url = common.admin().server().gateway() + target;
        if (curl) {
            common.say(Map.of("curl", curlLine(url, all)), () -> common.out().line(curlLine(url, all)));
            return 0;
        }
        Http.Reply answer = common.http().sendAny(method.toUpperCase(Locale.ROOT), url, all, body());
        tell(url, answer);
        return answer.status() < 400 ? 0 : answer.status() < 500 ? Failure.REFUSED : Failure.FAULT;
    }

    private String body() {
        if (data == null || !data.startsWith("@")) return data;
        try {
            return Files.readString(Path.of(data.substring(1)));
        } catch (IOException cause) {
            throw new Failure(Failure.WRONG_USAGE, "The file %s cannot be read.".formatted(data.substring(1)));
        }
    }

    private void tell(String url, Http.Reply answer) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("status", answer.status());
        json.put("headers", answer.headers());
        json.put("body", answer.body());
        common.say(json, () -> {
            Output out = common.out();
            boolean problem = answer.header("Content-Type")
                    .filter(type -> type.startsWith("application/problem+json"))
                    .isPresent();
            out.line("%s  %d  %s %s"
                    .formatted(
                            out.verdict(verdict(answer.status(), problem)),
                            answer.status(),
                            method.toUpperCase(Locale.ROOT),
                            url));
            answer.header("WWW-Authenticate").ifPresent(challenge -> out.fields("Challenge", challenge));
            if (problem) tellProblem(out, Http.json(answer));
            else out.line(pretty(answer.body()));
            answer.header("Admit-Decision")
                    .ifPresent(id -> out.line(out.faint("Why: ") + Http.command("admit decision show %s", id)));
        });
    }

    /** An upstream has 4xx of its own for requests that were admitted; the decision tells which it was. */
    private static String verdict(int status, boolean problem) {
        if (status < 400) return "admitted";
        if (status >= 500) return "failed";
        return problem || status == 401 || status == 403 ? "refused" : "answered";
    }

    /** What the gateway itself has to say, as words; the whole of it is there with --json. */
    private static void tellProblem(Output out, JsonNode problem) {
        if (problem.has("reason")) {
            out.fields(
                    "Refused",
                    problem.path("reason").asString(),
                    "Expected",
                    problem.path("expected").asString(""),
                    "Received",
                    problem.path("received").asString(""),
                    "Fix",
                    problem.path("fix").path("sentence").asString(""),
                    "Command",
                    problem.path("fix").path("command").asString(""),
                    "Who acts",
                    problem.path("fix").path("who").asString(""));
        } else {
            out.fields(
                    "Failed",
                    problem.path("title").asString(""),
                    "Why",
                    problem.path("detail").asString(""));
        }
    }

    private static String pretty(String body) {
        try {
            JsonNode json = Http.JSON.readTree(body);
            String onOneLine = json.toString();
            return Output.plain(onOneLine.length() <= SHORT ? onOneLine : Http.JSON.writeValueAsString(json));
        } catch (JacksonException notJson) {
            return Output.plain(body);
        }
    }
}
