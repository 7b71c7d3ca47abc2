package dev.admit.cli;

import dev.admit.contract.AuditProof;
import dev.admit.contract.AuditView;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

@Command(name = "audit", description = "Who changed what, and every token issued; chained, so that it can be proved whole.",
        subcommands = {AuditCommands.ListAll.class, AuditCommands.Export.class, AuditCommands.Verify.class})
final class AuditCommands {

    @Command(name = "list", description = "List lines, the newest first.", footer = {"", "Example: admit audit list --what approval --who operator"})
    static final class ListAll implements Runnable {
        @Mixin Common common;
        @Option(names = "--what", paramLabel = "WORD", description = "Such as client, or client.changed.") String what;
        @Option(names = "--who", paramLabel = "NAME", description = "Only what this one did.") String who;
        @Option(names = "--on", paramLabel = "NAME", description = "Only what was done to this.") String on;
        @Option(names = "--since", paramLabel = "TIME", description = "From then on, such as 2027-01-31T00:00:00Z.") String since;
        @Option(names = "--until", paramLabel = "TIME", description = "Before then.") String until;
        @Option(names = "--most", paramLabel = "N", description = "At most so many. Default: ${DEFAULT-VALUE}.") int most = 20;

        @Override public void run() {
            String query = Http.query("what", what, "who", who, "on", on, "since", since, "until", until);
            List<AuditView> all = common.admin().list(common.path("audit") + query, AuditView.class, most);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No line fits.", "admit audit list");
                else common.out().table(List.of("LINE", "WHEN", "WHAT", "ON", "BY", "BEFORE → AFTER"), all.stream().map(it -> List.of(String.valueOf(it.seq()),
                        Output.relative(it.at(), common.now()), it.what(), it.on(), it.who(), change(it))).toList());
            });
        }

        private static String change(AuditView it) {
            if (it.before().isEmpty()) return it.after();
            return it.before() + " → " + it.after();
        }
    }

    @Command(name = "export", description = "Print every line as JSON lines, each with its hash.", footer = {"", "Example: admit audit export > audit.jsonl"})
    static final class Export implements Runnable {
        @Mixin Common common;

        @Override public void run() {
            common.admin().text(common.path("audit", "export"), common.out());
        }
    }

    @Command(name = "verify", description = "Prove that no line was altered or removed.", footer = {"", "Example: admit audit verify"})
    static final class Verify implements java.util.concurrent.Callable<Integer> {
        @Mixin Common common;

        @Override public Integer call() {
            Admin.Answer<AuditProof> answer = common.admin().get(common.path("audit", "proof"), AuditProof.class);
            AuditProof proof = answer.value();
            common.say(answer.json(), () -> {
                if (!proof.whole()) common.out().done("The audit is not whole. " + proof.fault(), null);
                else if (proof.last() < proof.first()) common.out().done("There is no line yet.", null);
                else common.out().done("Lines %d to %d are whole: none was altered, none is missing.".formatted(proof.first(), proof.last()), "admit audit export > audit.jsonl");
            });
            return proof.whole() ? 0 : Failure.REFUSED;
        }
    }
}
