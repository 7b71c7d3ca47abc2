package dev.admit.store;

import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Command;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Refusal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** The checks of a decision as the column {@code checks} holds them. */
final class DecisionJson {
    private static final JsonMapper JSON = new JsonMapper();

    private DecisionJson() {}

    /** @param took nanoseconds of each; may be empty */
    static String write(List<CheckResult> checks, List<Integer> took) {
        ArrayNode all = JSON.createArrayNode();
        for (CheckResult check : checks) {
            ObjectNode one = all.addObject().put("check", check.check());
            if (all.size() <= took.size()) one.put("ns", took.get(all.size() - 1));
            switch (check) {
                case CheckResult.Passed passed ->
                    one.put("passed", true).put("expected", passed.expected()).put("received", passed.received());
                case CheckResult.Skipped skipped -> one.put("why", skipped.why());
                case CheckResult.Refused(String name, Refusal why) -> {
                    one.put("passed", false)
                            .put("reason", why.reason().toString())
                            .put("expected", why.expected())
                            .put("received", why.received())
                            .put("fix", why.fix().sentence());
                    why.fix().action().ifPresent(action -> one.set("action", write(action)));
                    why.fix().who().ifPresent(who -> one.put("who", who));
                }
            }
        }
        return JSON.writeValueAsString(all);
    }

    static List<CheckResult> read(String text) {
        List<CheckResult> checks = new ArrayList<>();
        for (JsonNode one : JSON.readTree(text)) checks.add(readOne(one));
        return checks;
    }

    static List<Integer> readTook(String text) {
        List<Integer> took = new ArrayList<>();
        for (JsonNode one : JSON.readTree(text))
            if (one.has("ns")) took.add(one.get("ns").asInt());
        return took;
    }

    private static CheckResult readOne(JsonNode one) {
        String name = one.get("check").asString();
        if (!one.has("passed"))
            return new CheckResult.Skipped(name, one.get("why").asString());
        String expected = one.get("expected").asString();
        String received = one.get("received").asString();
        if (one.get("passed").asBoolean()) return CheckResult.passed(name, expected, received);
        Fix fix = new Fix(one.get("fix").asString(), action(one), textOrNone(one, "who"));
        return CheckResult.refused(
                name, Reason.of(one.get("reason").asString()).orElseThrow(), expected, received, fix);
    }

    private static ObjectNode write(Action action) {
        ObjectNode written = JSON.createObjectNode();
        written.put("issuer", action.issuer());
        written.put("thing", action.thing());
        written.put("act", action.act());
        ArrayNode on = written.putArray("on");
        action.on().forEach(on::add);
        ArrayNode options = written.putArray("options");
        for (Action.Option option : action.options())
            options.addObject().put("name", option.name()).put("value", option.value());
        return written;
    }

    /** Decisions of before have the line of the command line in its place. */
    private static Optional<Action> action(JsonNode one) {
        JsonNode written = one.path("action");
        if (written.isMissingNode()) return textOrNone(one, "command").flatMap(Command::read);
        List<Action.Option> options = new ArrayList<>();
        for (JsonNode option : written.path("options"))
            options.add(new Action.Option(
                    option.get("name").asString(), option.get("value").asString()));
        return Optional.of(new Action(
                written.get("issuer").asString(),
                written.get("thing").asString(),
                written.get("act").asString(),
                readPhrases(written.get("on").toString()),
                List.copyOf(options)));
    }

    static String writePhrases(List<String> phrases) {
        return JSON.writeValueAsString(phrases);
    }

    static List<String> readPhrases(String text) {
        List<String> phrases = new ArrayList<>();
        for (JsonNode one : JSON.readTree(text)) phrases.add(one.asString());
        return phrases;
    }

    private static Optional<String> textOrNone(JsonNode one, String name) {
        return Optional.ofNullable(one.get(name)).map(JsonNode::asString);
    }
}
