package dev.admit.cli;

import dev.admit.contract.PermissionView;
import dev.admit.contract.ServiceCheck;
import dev.admit.contract.ServiceView;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
        name = "service",
        description = "The service as a whole: where it is, a backup, whether its records are whole.",
        subcommands = {
            ServiceCommands.Show.class,
            ServiceCommands.Backup.class,
            ServiceCommands.Check.class,
            ServiceCommands.Permissions.class
        })
final class ServiceCommands {

    @Command(
            name = "show",
            description = "Show version and addresses.",
            footer = {"", "Example: admit service show"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            Admin.Answer<ServiceView> answer = common.admin().get("", ServiceView.class);
            common.say(answer.json(), () -> common.out()
                    .fields(
                            "Version",
                            answer.value().version(),
                            "Authorization server",
                            answer.value().publicUrl(),
                            "Gateway",
                            answer.value().gateway()));
        }
    }

    @Command(
            name = "backup",
            description =
                    "Write the records as of this moment to a file here, while the service goes on. The master key "
                            + "is not in it: keep that apart.",
            footer = {"", "Example: admit service backup admit-2027-01-31.db"})
    static final class Backup implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "FILE")
        Path file;

        @Override
        public void run() {
            long bytes = common.admin().download("/service/backup", file);
            common.say(Map.of("file", file.toString(), "bytes", bytes), () -> common.out()
                    .done(
                            "%d KiB are in %s, readable by you alone.".formatted((bytes + 1023) / 1024, file),
                            Http.command("admit restore --data DIR --from %s", file)));
        }
    }

    @Command(
            name = "check",
            description = "Read every record and every line of the audits, and say whether they are whole.",
            footer = {"", "Example: admit service check"})
    static final class Check implements java.util.concurrent.Callable<Integer> {
        @Mixin
        Common common;

        @Override
        public Integer call() {
            Admin.Answer<ServiceCheck> answer = common.admin().get("/service/check", ServiceCheck.class);
            common.say(answer.json(), () -> {
                if (answer.value().whole()) common.out().done("The records are whole.", "admit service backup FILE");
                else answer.value().faults().forEach(common.out()::line);
            });
            return answer.value().whole() ? 0 : Failure.REFUSED;
        }
    }

    @Command(
            name = "permissions",
            description = "List who may use which endpoint of the admin API.",
            footer = {"", "Example: admit service permissions --role auditor"})
    static final class Permissions implements Runnable {
        @Mixin
        Common common;

        @Option(
                names = "--role",
                paramLabel = "ROLE",
                description = "Only what this admin role may use: administrator, operator or auditor.")
        String role;

        @Override
        public void run() {
            List<String> roles = List.of("auditor", "operator", "administrator");
            if (role != null && !roles.contains(role))
                throw new Failure(
                        Failure.WRONG_USAGE,
                        "--role is '%s'. Write administrator, operator or auditor.".formatted(role));
            List<PermissionView> all = common.admin().list("/permissions", PermissionView.class, 1_000).stream()
                    .filter(it -> role == null || roles.indexOf(role) >= roles.indexOf(it.adminRole()))
                    .toList();
            common.say(all, () -> common.out()
                    .table(
                            List.of("METHOD", "PATH", "ADMIN ROLE", "OF", "OWNER OF"),
                            all.stream()
                                    .map(it -> List.of(it.method(), it.path(), it.adminRole(), it.of(), it.owner()))
                                    .toList(),
                            1));
        }
    }
}
