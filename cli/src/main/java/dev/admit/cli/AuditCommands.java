package dev.admit.cli;

import dev.admit.contract.AuditProof;
import dev.admit.contract.AuditView;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

@Command(
        name = "audit",
        description = "Who changed what, and every token issued; chained, so that it can be proved whole.",
        subcommands = {AuditCommands.ListAll.class, AuditCommands.Export.class, AuditCommands.Verify.class})
final class AuditCommands {

    @Command(
            name = "list",
            description = "List lines, the newest first.",
            footer = {"", "Example: admit audit list --what approval --who operator"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Option(names = "--what", paramLabel = "WORD", description = "Such as client, or client.changed.")
        String what;

        @Option(names = "--who", paramLabel = "NAME", description = "Only lines of this person or client.")
        String who;

        @Option(names = "--on", paramLabel = "NAME", description = "Only lines about this object.")
        String on;

        @Option(
                names = "--since",
                paramLabel = "TIME",
                description = "From then on: a time such as 2027-01-31T00:00:00Z, or a length of time ago such as 1d.")
        String since;

        @Option(names = "--until", paramLabel = "TIME", description = "Before then: a time, or a length of time ago.")
        String until;

        @Option(names = "--limit", paramLabel = "N", description = "At most so many lines. Default: ${DEFAULT-VALUE}.")
        int most = 20;

        @Override
        public void run() {
            String query = Http.query("what", what, "who", who, "on", on, "since", since, "until", until);
            List<AuditView> all = common.admin().list(common.path("audit") + query, AuditView.class, most);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No line fits.", "admit audit list");
                else
                    common.out()
                            .table(
                                    List.of("LINE", "WHEN", "WHAT", "ON", "BY", "WHAT DIFFERS"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    String.valueOf(it.seq()),
                                                    Output.relative(it.at(), common.now()),
                                                    it.what(),
                                                    it.on(),
                                                    it.who(),
                                                    change(it)))
                                            .toList());
            });
        }

        /** What differs, member by member; of what is new its title or scope. All of it is in the JSON. */
        private static String change(AuditView it) {
            JsonNode before = it.before().isEmpty() ? Http.JSON.createObjectNode() : Http.JSON.readTree(it.before());
            JsonNode after = it.after().isEmpty() ? Http.JSON.createObjectNode() : Http.JSON.readTree(it.after());
            if (it.before().isEmpty())
                return after.path("scope")
                        .asString(
                                after.path("title").asString(after.path("label").asString("")));
            if (it.after().isEmpty()) return "";
            return String.join(", ", differing(before, after));
        }

        private static List<String> differing(JsonNode before, JsonNode after) {
            Set<String> members = new LinkedHashSet<>(before.propertyNames());
            members.addAll(after.propertyNames());
            members.remove("version");
            List<String> all = new ArrayList<>();
            for (String member : members) {
                JsonNode was = before.path(member);
                JsonNode is = after.path(member);
                if (was.equals(is)) continue;
                if (was.isObject() && is.isObject()) all.addAll(differing(was, is));
                else all.add("%s: %s → %s".formatted(member, text(was), text(is)));
            }
            return all;
        }

        private static String text(JsonNode value) {
            return value.isMissingNode() || value.isNull()
                    ? "nothing"
                    : value.isString() ? value.asString() : value.toString();
        }
    }

    @Command(
            name = "export",
            description = "Print every line as JSON lines, each with its hash.",
            footer = {"", "Example: admit audit export > audit.jsonl"})
    static final class Export implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            common.admin().text(common.path("audit", "export"), common.out());
        }
    }

    @Command(
            name = "check",
            description = "Prove that no line was altered or removed.",
            footer = {"", "Example: admit audit check"})
    static final class Verify implements java.util.concurrent.Callable<Integer> {
        @Mixin
        Common common;

        @Override
        public Integer call() {
            Admin.Answer<AuditProof> answer = common.admin().get(common.path("audit", "check"), AuditProof.class);
            AuditProof proof = answer.value();
            common.say(answer.json(), () -> {
                if (!proof.whole()) common.out().done("The audit is not whole. " + proof.fault(), null);
                else if (proof.last() < proof.first()) common.out().done("There is no line yet.", null);
                else
                    common.out()
                            .done(
                                    "Lines %d to %d are whole: none was altered, none is missing."
                                            .formatted(proof.first(), proof.last()),
                                    "admit audit export > audit.jsonl");
            });
            return proof.whole() ? 0 : Failure.REFUSED;
        }
    }
}
