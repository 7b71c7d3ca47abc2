package dev.admit.cli;

import dev.admit.contract.ApiView;
import dev.admit.contract.OpenApiCheckWanted;
import dev.admit.contract.OpenApiChecked;
import dev.admit.contract.OpenApiLoaded;
import dev.admit.contract.OpenApiSummary;
import dev.admit.contract.OpenApiWanted;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.JacksonException;
import tools.jackson.dataformat.yaml.YAMLMapper;

/** An API and its OpenAPI document. */
final class ApiDocument {
    private ApiDocument() {}

    private static String text(Path file) {
        return TextFile.read(file, "an OpenAPI document in JSON or YAML");
    }

    static String summary(@Nullable OpenApiSummary it) {
        return it == null
                ? ""
                : "%s %s, %d operations"
                        .formatted(Output.plain(it.title()), Output.plain(it.version()), it.operations());
    }

    @Command(
            name = "import",
            description = "Make an API, its scopes and its routes from its OpenAPI document. Says what would change; "
                    + "--load saves it.",
            footer = {
                "",
                "Example: admit api import tides tides.yaml --prefix /tides",
                "Example: admit api import tides http://127.0.0.1:9481/openapi.json --prefix /tides"
            })
    static final class Import implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "NAME", description = "The name that the API has or is to have.")
        String name;

        @Parameters(index = "1", paramLabel = "FILE|URL", description = "The document, or where it is at the upstream.")
        String document;

        @Option(names = "--prefix", paramLabel = "PATH", description = "What paths at the gateway begin with.")
        String prefix;

        @Option(
                names = "--upstream",
                paramLabel = "URL",
                description = "Where the API is. Default: as it is, or as the document says.")
        String upstream;

        @Option(names = "--load", description = "Save it. From a URL, --sha256 says which document was looked at.")
        boolean load;

        @Option(names = "--sha256", paramLabel = "HEX", description = "Load no other document than this one.")
        String sha256;

        @Option(
                names = "--confirm",
                paramLabel = "NAME",
                description = "The API's name, said again, when more would pass than now.")
        String confirm;

        @Override
        public void run() {
            boolean fetched = document.matches("https?://.*");
            OpenApiWanted wanted = new OpenApiWanted(
                    fetched ? null : text(Path.of(document)),
                    fetched ? document : null,
                    prefix,
                    upstream,
                    sha256,
                    load);
            Admin.Answer<OpenApiLoaded> answer = common.admin()
                    .post(
                            common.path("apis", name, "openapi", "import") + Http.query("confirm", confirm),
                            wanted,
                            OpenApiLoaded.class);
            common.say(answer.json(), () -> tell(common.out(), answer.value()));
        }

        private void tell(Output out, OpenApiLoaded it) {
            SetupCommands.tell(out, it.steps());
            for (String route : it.gone())
                out.line("answers no operation of the document: %s. Remove it with: %s"
                        .formatted(Output.plain(route), Http.command("admit route remove %s", route)));
            out.notes(it.notes());
            if (it.steps().isEmpty()) {
                out.done("Nothing differs from the document.", Http.command("admit api openapi %s", name));
                return;
            }
            String same = Http.command("admit api import %s %s", name, document)
                    + (prefix == null ? "" : Http.command(" --prefix %s", prefix))
                    + (upstream == null ? "" : Http.command(" --upstream %s", upstream));
            out.done(
                    it.loaded() ? "It is loaded." : "Nothing is saved yet.",
                    it.loaded()
                            ? Http.command("admit api openapi %s", name)
                            : same + " --load --sha256 " + it.sha256());
        }
    }

    @Command(
            name = "openapi",
            description = "Print an API's OpenAPI document as callers see it: the gateway's addresses, this issuer's "
                    + "endpoints, and the scopes that each operation really needs.",
            footer = {"", "Example: admit api openapi tides"})
    static final class Print implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        public void run() {
            common.out().json(Http.JSON.readTree(common.admin().text(common.path("apis", name, "openapi"))));
        }
    }

    @Command(
            name = "check-against",
            description = "Say what a document promises and no route lets through, and the reverse. Ends with 1 where "
                    + "the two differ.",
            footer = {"", "Example: admit route check-against tides.yaml"})
    static final class CheckAgainst implements Callable<Integer> {
        @Mixin
        Common common;

        @Parameters(
                paramLabel = "DOCUMENT",
                arity = "0..1",
                description = "An OpenAPI document. Default: the one that the API has.")
        @Nullable
        Path document;

        @Option(
                names = "--api",
                paramLabel = "NAME",
                description = "The API that it describes. Default: the one whose document has this title.")
        String api;

        @Override
        public Integer call() {
            String meant = api == null ? meant() : api;
            Admin.Answer<OpenApiChecked> answer = common.admin()
                    .post(
                            common.path("apis", meant, "openapi", "check"),
                            new OpenApiCheckWanted(document == null ? null : text(document)),
                            OpenApiChecked.class);
            common.say(answer.json(), () -> tell(common.out(), answer.value()));
            return answer.value().agrees() ? 0 : Failure.REFUSED;
        }

        private String meant() {
            List<ApiView> all = common.admin().list(common.path("apis"), ApiView.class, 1000).stream()
                    .filter(it -> it.openapi() != null)
                    .toList();
            String title = document == null ? "" : title(text(document));
            List<ApiView> of = all.stream()
                    .filter(it -> document == null || title.equals(title(it)))
                    .toList();
            if (of.size() == 1) return of.getFirst().name();
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "Which API does the document describe? Say --api with its name. List them with: admit api list");
        }

        private static String title(ApiView it) {
            return it.openapi() == null ? "" : it.openapi().title();
        }

        private static String title(String document) {
            try {
                return new YAMLMapper()
                        .readTree(document)
                        .path("info")
                        .path("title")
                        .asString("")
                        .strip();
            } catch (JacksonException toldByTheService) {
                return "";
            }
        }

        private static void tell(Output out, OpenApiChecked it) {
            section(out, "Promised, and no route lets it through:", it.notReached());
            section(
                    out,
                    "The route wants something else than the document says:",
                    it.otherwise().stream()
                            .map(one -> "%s  (%s): %s, not %s"
                                    .formatted(one.operation(), one.route(), one.wanted(), one.promised()))
                            .toList());
            section(out, "Let through, and not promised:", it.notPromised());
            section(out, "Lets through more than is promised, by any method or any path beneath:", it.wider());
            if (it.agrees()) out.done("The routes of %s and the document agree.".formatted(it.api()), null);
        }

        private static void section(Output out, String title, List<String> lines) {
            if (lines.isEmpty()) return;
            out.line(out.strong(title));
            lines.forEach(line -> out.line("  " + Output.plain(line)));
        }
    }
}
