package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.MintingView;
import dev.admit.contract.MintingWanted;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "minting",
        description = "Show or change how an API's tokens are made. Of all that applies the strictest counts.",
        footer = {
            "",
            "Example: admit api minting tides",
            "Example: admit api minting tides --lifetime 5m --claim 'tags=client.tags'",
            "Example: admit api minting tides --exception 'name=night,tags=night-shift,lifetime=2m'"
        })
final class ApiMinting implements Runnable {
    @Mixin
    Common common;

    @Parameters(paramLabel = "API")
    String name;

    @Option(names = "--lifetime", paramLabel = "TIME", description = "{MintingWanted.lifetime}.")
    String lifetime;

    @Option(names = "--format", paramLabel = "WORD", description = "{MintingWanted.format}.")
    String format;

    @Option(names = "--refresh-idle-timeout", paramLabel = "TIME", description = "{MintingWanted.refreshIdleTimeout}.")
    String refreshIdleTimeout;

    @Option(names = "--max-refresh-age", paramLabel = "TIME", description = "{MintingWanted.maxRefreshAge}.")
    String maxRefreshAge;

    @Option(
            names = "--claim",
            paramLabel = "NAME=CEL",
            description = "An extra claim and its expression; may be said again. '' for none.")
    List<String> claims;

    @Option(
            names = "--exception",
            paramLabel = "FIELDS",
            description = "name=, clients=, tags=, grant_types=, lifetime=, format=, refresh_idle_timeout=, "
                    + "max_refresh_age=, "
                    + "without=, joined by commas; several values by +. May be said again. '' for none.")
    List<String> exceptions;

    @Spec
    CommandSpec command;

    @Override
    public void run() {
        String path = common.path("apis", name, "minting");
        Admin.Answer<MintingView> before = common.admin().get(path, MintingView.class);
        Lists lists = Lists.of(command);
        List<MintingView.Claim> wantedClaims = claims(
                lists.pairs("--claim", claims == null ? null : pairs(claims), pairs(before.value())), before.value());
        List<MintingView.Exempt> wantedExceptions = exceptions(lists, before.value());
        if (lifetime == null
                && format == null
                && wantedClaims == null
                && refreshIdleTimeout == null
                && maxRefreshAge == null
                && wantedExceptions == null) {
            common.say(before.json(), () -> tell(common.out(), before.value()));
            return;
        }
        MintingWanted wanted =
                new MintingWanted(lifetime, format, wantedClaims, refreshIdleTimeout, maxRefreshAge, wantedExceptions);
        Admin.Answer<JsonNode> answer =
                common.admin().change("PATCH", path, before.etag().orElse("*"), wanted, JsonNode.class);
        Changed<MintingView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
        common.say(answer.json(), () -> {
            common.out().notes(changed.notes());
            tell(common.out(), changed.now());
            common.out()
                    .done(
                            "Tokens for %s are made so from now on; those that are out stay as they are."
                                    .formatted(name),
                            "admit client minting CLIENT");
        });
    }

    private static Map<String, String> pairs(MintingView it) {
        Map<String, String> pairs = new LinkedHashMap<>();
        it.claims().forEach(claim -> pairs.put(claim.name(), claim.expression()));
        return pairs;
    }

    private static Map<String, String> pairs(List<String> said) {
        Map<String, String> pairs = new LinkedHashMap<>();
        said.stream()
                .filter(it -> !it.isBlank())
                .map(ApiMinting::claim)
                .forEach(claim -> pairs.put(claim.name(), claim.expression()));
        return pairs;
    }

    /**
     * The claims as they are wanted, in their order.
     *
     * @param patch null for as they are
     */
    private static @Nullable List<MintingView.Claim> claims(
            @Nullable Map<String, @Nullable Object> patch, MintingView before) {
        if (patch == null) return null;
        Map<String, @Nullable Object> all = new LinkedHashMap<>(pairs(before));
        all.putAll(patch);
        return all.entrySet().stream()
                .filter(it -> it.getValue() != null)
                .map(it -> new MintingView.Claim(it.getKey(), it.getValue().toString()))
                .toList();
    }

    /** Exceptions are added as a whole, and removed by their name. */
    private @Nullable List<MintingView.Exempt> exceptions(Lists lists, MintingView before) {
        List<String> names =
                before.exceptions().stream().map(MintingView.Exempt::name).toList();
        List<String> wanted = lists.list("--exception", exceptions, names);
        if (wanted == null) return null;
        List<MintingView.Exempt> all = new ArrayList<>();
        for (String one : wanted) {
            Optional<MintingView.Exempt> there = before.exceptions().stream()
                    .filter(it -> one.equals(it.name()))
                    .findFirst();
            all.add(there.isPresent() ? there.get() : exempt(one));
        }
        return all;
    }

    private static void tell(Output out, MintingView it) {
        out.fields(
                "API",
                it.api(),
                "Lifetime",
                it.lifetime(),
                "Format",
                it.format(),
                "Refreshed",
                "for %s at most, idle for %s".formatted(it.maxRefreshAge(), it.refreshIdleTimeout()));
        it.claims().forEach(claim -> out.line("Claim      %s = %s".formatted(claim.name(), claim.expression())));
        for (MintingView.Exempt one : it.exceptions()) {
            List<String> when = new ArrayList<>();
            add(when, "clients", one.clients());
            add(when, "tags", one.tags());
            add(when, "grant types", one.grantTypes());
            List<String> then = new ArrayList<>();
            if (one.lifetime() != null) then.add("at most " + one.lifetime());
            if (one.format() != null) then.add(one.format());
            if (one.refreshIdleTimeout() != null) then.add("refresh idle " + one.refreshIdleTimeout());
            if (one.maxRefreshAge() != null) then.add("refreshed for " + one.maxRefreshAge());
            add(then, "without", one.without());
            out.line("Exception  %s: for %s: %s"
                    .formatted(one.name(), String.join(" and ", when), String.join(", ", then)));
        }
    }

    private static void add(List<String> parts, String what, @Nullable List<String> names) {
        if (names != null && !names.isEmpty()) parts.add(what + " " + String.join(" ", names));
    }

    private static MintingView.Claim claim(String text) {
        int equals = text.indexOf('=');
        if (equals < 1)
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "--claim is '%s'. Write NAME=EXPRESSION, such as tags=client.tags.".formatted(text));
        return new MintingView.Claim(text.substring(0, equals), text.substring(equals + 1));
    }

    private static MintingView.Exempt exempt(String text) {
        Map<String, String> fields = new HashMap<>();
        for (String field : text.split(",")) {
            int equals = field.indexOf('=');
            String key = equals < 1 ? field : field.substring(0, equals).strip();
            if (equals < 1
                    || !Set.of(
                                    "name",
                                    "clients",
                                    "tags",
                                    "grant_types",
                                    "lifetime",
                                    "format",
                                    "refresh_idle_timeout",
                                    "max_refresh_age",
                                    "without")
                            .contains(key)) {
                throw new Failure(
                        Failure.WRONG_USAGE,
                        "--exception has '%s'. Write name=NIGHT,tags=night-shift,lifetime=2m.".formatted(field));
            }
            fields.put(key, field.substring(equals + 1).strip());
        }
        return new MintingView.Exempt(
                fields.get("name"),
                several(fields.get("clients")),
                several(fields.get("tags")),
                several(fields.get("grant_types")),
                fields.get("lifetime"),
                fields.get("format"),
                fields.get("refresh_idle_timeout"),
                fields.get("max_refresh_age"),
                several(fields.get("without")));
    }

    private static List<String> several(@Nullable String text) {
        return text == null || text.isEmpty() ? List.of() : List.of(text.split("\\+"));
    }
}
