package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.IssuerView;
import dev.admit.contract.IssuerWanted;
import dev.admit.contract.PeopleSettingsView;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.databind.JsonNode;

@Command(
        name = "issuer",
        description = "Authorization servers on this service, each with its own keys, APIs and clients.",
        subcommands = {
            IssuerCommands.ListAll.class,
            IssuerCommands.Show.class,
            IssuerCommands.Add.class,
            IssuerCommands.Change.class,
            IssuerCommands.Remove.class
        })
final class IssuerCommands {

    @Command(
            name = "list",
            description = "List the issuers.",
            footer = {"", "Example: admit issuer list"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            List<IssuerView> all = common.admin().list("/issuers", IssuerView.class, 1000);
            common.say(all, () -> common.out()
                    .table(
                            List.of("ISSUER", "URL", "TITLE"),
                            all.stream()
                                    .map(it -> List.of(it.name(), it.url(), it.title()))
                                    .toList()));
        }
    }

    @Command(
            name = "show",
            description = "Show an issuer and where its metadata is.",
            footer = {"", "Example: admit issuer show harbour"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "ISSUER", arity = "0..1")
        String name;

        @Override
        public void run() {
            Admin.Answer<IssuerView> answer = common.admin()
                    .get("/issuers/" + Http.encoded(name == null ? common.issuer() : name), IssuerView.class);
            IssuerView it = answer.value();
            common.say(answer.json(), () -> common.out()
                    .fields(
                            "Issuer",
                            it.name(),
                            "Title",
                            it.title(),
                            "URL",
                            it.url(),
                            "Metadata",
                            it.url() + "/.well-known/oauth-authorization-server",
                            "Token endpoint",
                            it.url() + "/token",
                            "Keys",
                            it.url() + "/jwks",
                            "Description",
                            it.description(),
                            "Domains",
                            String.join(", ", it.domains()),
                            "Grant types",
                            it.grantTypes().isEmpty() ? "none is on" : String.join(", ", it.grantTypes()),
                            "Key rotation",
                            it.keyRotation().equals("none") ? "by command only" : "every " + it.keyRotation(),
                            "Secrets",
                            "%s, at most %s%s"
                                    .formatted(
                                            it.secretLifetime(),
                                            it.maxSecretLifetime(),
                                            it.nonExpiringSecrets() ? ", or without end" : ""),
                            "People",
                            "%s; signed in for %s unused, %s at most%s%s"
                                    .formatted(
                                            isOn(it.people().signUp()) ? "anyone may sign up" : "added or invited",
                                            it.people().sessionIdleTimeout(),
                                            it.people().maxSessionAge(),
                                            isOn(it.people().secondFactor()) ? "; everyone needs a second factor" : "",
                                            isOn(it.people().listed()) ? "; named at the console's entrance" : ""),
                            "Sign-in page",
                            it.url() + "/sign-in",
                            "Routes",
                            "revision " + it.revision(),
                            "Made",
                            Output.when(it.createdAt(), common.now())));
        }
    }

    /** What an issuer is made with, and what of it can be changed. */
    static final class Rules {
        @Option(names = "--title", description = "{IssuerWanted.title}.")
        String title;

        @Option(names = "--description", description = "{IssuerWanted.description}.")
        String description;

        @Option(
                names = "--domain",
                paramLabel = "NAME",
                description = "{IssuerWanted.domains}; may be said again. '' for none.")
        List<String> domains;

        @Option(names = "--key-rotation", paramLabel = "TIME", description = "{IssuerWanted.keyRotation}.")
        String keyRotation;

        @Option(names = "--secret-lifetime", paramLabel = "TIME", description = "{IssuerWanted.secretLifetime}.")
        String secretLifetime;

        @Option(names = "--max-secret-lifetime", paramLabel = "TIME", description = "{IssuerWanted.maxSecretLifetime}.")
        String maxSecretLifetime;

        @Option(
                names = "--non-expiring-secrets",
                arity = "1",
                paramLabel = "true|false",
                description = "{IssuerWanted.nonExpiringSecrets}.")
        Boolean nonExpiringSecrets;

        @Option(
                names = "--loopback-redirects",
                arity = "1",
                paramLabel = "true|false",
                description = "{IssuerWanted.loopbackRedirects}.")
        Boolean loopbackRedirects;

        @Option(
                names = "--grant-type",
                paramLabel = "WORD",
                description = "{IssuerWanted.grantTypes}; may be said again. '' for none.")
        List<String> grantTypes;

        @Option(
                names = "--listed",
                arity = "1",
                paramLabel = "true|false",
                description = "{PeopleSettingsView.listed}.")
        Boolean listed;

        @Option(
                names = "--sign-up",
                arity = "1",
                paramLabel = "true|false",
                description = "{PeopleSettingsView.signUp}.")
        Boolean signUp;

        @Option(
                names = "--second-factor",
                arity = "1",
                paramLabel = "true|false",
                description = "{PeopleSettingsView.secondFactor}.")
        Boolean secondFactor;

        @Option(
                names = "--session-idle-timeout",
                paramLabel = "TIME",
                description = "{PeopleSettingsView.sessionIdleTimeout}.")
        String sessionIdleTimeout;

        @Option(names = "--max-session-age", paramLabel = "TIME", description = "{PeopleSettingsView.maxSessionAge}.")
        String maxSessionAge;

        @Option(
                names = "--logo",
                paramLabel = "FILE",
                description = "A small png, jpeg, webp or gif for the pages; '' for none.")
        String logo;

        @Option(
                names = "--accent",
                paramLabel = "COLOUR",
                description = "Of the pages, such as #1f6f63; '' for the usual one.")
        String accent;

        @Option(names = "--welcome", paramLabel = "TEXT", description = "{PeopleSettingsView.welcome}; '' for none.")
        String welcome;

        @Option(
                names = "--style-sheet",
                paramLabel = "FILE",
                description = "CSS of your own for the pages; '' for none.")
        String styleSheet;

        IssuerWanted wanted(String name) {
            return wanted(name, null, null);
        }

        /** What a change says of an issuer that is there. */
        IssuerWanted change(IssuerView old, Lists lists) {
            return wanted(null, old, lists);
        }

        private IssuerWanted wanted(@Nullable String name, @Nullable IssuerView old, @Nullable Lists lists) {
            boolean none = listed == null
                    && signUp == null
                    && secondFactor == null
                    && sessionIdleTimeout == null
                    && maxSessionAge == null
                    && logo == null
                    && accent == null
                    && welcome == null
                    && styleSheet == null;
            PeopleSettingsView people = none
                    ? null
                    : new PeopleSettingsView(
                            listed,
                            signUp,
                            secondFactor,
                            sessionIdleTimeout,
                            maxSessionAge,
                            OwnLook.picture(logo),
                            accent,
                            welcome,
                            OwnLook.text(styleSheet));
            return new IssuerWanted(
                    name,
                    title,
                    description,
                    old == null || lists == null
                            ? Common.whole(domains)
                            : lists.list("--domain", domains, old.domains()),
                    keyRotation,
                    secretLifetime,
                    maxSecretLifetime,
                    nonExpiringSecrets,
                    loopbackRedirects,
                    old == null || lists == null
                            ? Common.whole(grantTypes)
                            : lists.list("--grant-type", grantTypes, old.grantTypes()),
                    people);
        }
    }

    @Command(
            name = "change",
            description = "Change an issuer's texts and settings; what is not named stays.",
            footer = {"", "Example: admit issuer change harbour --domain saltmarsh.example --key-rotation 30d"})
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "ISSUER")
        String name;

        @Mixin
        Rules rules;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            String path = "/issuers/" + Http.encoded(name);
            Admin.Answer<IssuerView> old = common.admin().get(path, IssuerView.class);
            Admin.Answer<JsonNode> answer = common.admin()
                    .change(
                            "PATCH",
                            path,
                            old.etag().orElse("*"),
                            rules.change(old.value(), Lists.of(command)),
                            JsonNode.class);
            Changed<IssuerView> changed =
                    common.admin().read(answer.json(), new tools.jackson.core.type.TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(changed.notes());
                common.out()
                        .done(
                                "The issuer %s is changed."
                                        .formatted(changed.now().name()),
                                Http.command(
                                        "admit issuer show %s", changed.now().name()));
            });
        }
    }

    @Command(
            name = "remove",
            description = "Remove an issuer with everything it holds; its tokens end at once.",
            footer = {"", "Example: admit issuer remove gullwing --confirm gullwing"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "ISSUER")
        String name;

        @Option(names = "--confirm", paramLabel = "NAME", description = "The issuer's name, said again.")
        String confirm;

        @Override
        public void run() {
            common.admin().remove("/issuers/" + Http.encoded(name) + Confirm.query(confirm), JsonNode.class);
            common.say(java.util.Map.of("removed", name), () -> common.out()
                    .done(
                            "The issuer %s is gone with all it held; its audit stays.".formatted(name),
                            "admit issuer list"));
        }
    }

    @Command(
            name = "add",
            description = "Make an issuer with its first signing key.",
            footer = {"", "Example: admit issuer add harbour --title 'Saltmarsh Harbour Authority'"})
    static final class Add implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "NAME")
        String name;

        @Mixin
        Rules rules;

        @Override
        public void run() {
            Admin.Answer<JsonNode> answer = common.admin().post("/issuers", rules.wanted(name), JsonNode.class);
            Changed<IssuerView> made =
                    common.admin().read(answer.json(), new tools.jackson.core.type.TypeReference<>() {});
            common.saved()
                    .change(contents -> contents.changing(
                            common.admin().serverName(),
                            server -> server.issuer() != null
                                    ? server
                                    : server.withIssuer(made.now().name())));
            common.say(answer.json(), () -> {
                common.out().notes(made.notes());
                common.out()
                        .done(
                                "The issuer %s answers at %s."
                                        .formatted(made.now().name(), made.now().url()),
                                "admit api add NAME --upstream URL");
            });
        }
    }

    private static boolean isOn(@Nullable Boolean setting) {
        return Boolean.TRUE.equals(setting);
    }
}
