package dev.admit.server.admin;

import dev.admit.contract.SecretOnce;
import dev.admit.contract.SetupView;
import dev.admit.contract.SetupWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.Actor;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.decision.Command;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.setup.ExportSetup;
import dev.admit.core.setup.LoadSetup;
import dev.admit.core.setup.Setup;
import dev.admit.core.setup.SetupOutcome;
import dev.admit.server.setup.SetupSchema;
import dev.admit.server.setup.SetupYaml;
import java.time.Clock;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Setup files: an issuer or a piece of it as YAML, compared with what runs, and loaded altogether or not at all. */
@RestController
@RequestMapping("/admin")
class SetupEndpoints {
    private final LoadSetup loadSetup;
    private final ExportSetup exportSetup;
    private final Issuers issuers;
    private final Lookup lookup;
    private final Views views;
    private final Clock clock;

    SetupEndpoints(
            LoadSetup loadSetup, ExportSetup exportSetup, Issuers issuers, Lookup lookup, Views views, Clock clock) {
        this.loadSetup = loadSetup;
        this.exportSetup = exportSetup;
        this.issuers = issuers;
        this.lookup = lookup;
        this.views = views;
        this.clock = clock;
    }

    /**
     * @param api only this API with its scopes and routes
     * @param client only this client
     */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/issuers/{issuer}/setup")
    ResponseEntity<String> export(
            @PathVariable String issuer,
            @RequestParam(required = false) String api,
            @RequestParam(required = false) String client) {
        Issuer owner = lookup.issuer(issuer);
        Setup setup = api != null
                ? exportSetup.piece(owner, lookup.api(owner, api))
                : client != null ? exportSetup.piece(owner, lookup.client(owner, client)) : exportSetup.whole(owner);
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType("application/yaml"))
                .body(SetupYaml.write(
                        setup,
                        "%s as it was at %s. Secrets are never in it."
                                .formatted(
                                        api != null
                                                ? "The API " + api
                                                : client != null ? "The client " + client : owner.title(),
                                        clock.instant().truncatedTo(ChronoUnit.SECONDS))));
    }

    @Permitted(value = AdminRole.AUDITOR, of = Permission.Of.ANY)
    @GetMapping("/setup/schema")
    Map<String, Object> schema() {
        return SetupSchema.schema();
    }

    /** What loading would change. */
    @Permitted(value = AdminRole.ADMINISTRATOR, of = Permission.Of.SERVICE)
    @PostMapping("/setup/compare")
    SetupView compare(@RequestBody SetupWanted wanted, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return run(wanted, actor, false);
    }

    @Permitted(value = AdminRole.ADMINISTRATOR, of = Permission.Of.SERVICE)
    @PostMapping("/setup/load")
    SetupView load(@RequestBody SetupWanted wanted, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return run(wanted, actor, true);
    }

    /** As the one above, for the one who runs this issuer alone: a file of another is not taken. */
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping("/issuers/{issuer}/setup/compare")
    SetupView compare(
            @PathVariable String issuer,
            @RequestBody SetupWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return run(ofIssuer(lookup.issuer(issuer), wanted), actor, false);
    }

    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping("/issuers/{issuer}/setup/load")
    SetupView load(
            @PathVariable String issuer,
            @RequestBody SetupWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return run(ofIssuer(lookup.issuer(issuer), wanted), actor, true);
    }

    private static SetupWanted ofIssuer(Issuer issuer, SetupWanted wanted) {
        if (SetupYaml.read(wanted.file() == null ? "" : wanted.file(), Optional.ofNullable(wanted.stage()))
                        instanceof SetupYaml.Reading.Good good
                && !issuer.name().equals(good.setup().issuer())) {
            throw new Answers.Refused(Answers.invalid(List.of(new FieldFault(
                    "/issuer",
                    issuer.name(),
                    Fields.quoted(String.valueOf(good.setup().issuer())),
                    "Load it at its own issuer."))));
        }
        return wanted;
    }

    private SetupView run(SetupWanted wanted, Actor actor, boolean forGood) {
        switch (SetupYaml.read(wanted.file() == null ? "" : wanted.file(), Optional.ofNullable(wanted.stage()))) {
            case SetupYaml.Reading.Malformed(List<FieldFault> faults) ->
                throw new Answers.Refused(Answers.invalid(faults));
            case SetupYaml.Reading.Good(Setup setup, Map<String, String> places) -> {
                issuers.named(setup.issuer() == null ? "" : setup.issuer()).ifPresent(Lockout::refuseForOperatorIssuer);
                LoadSetup.Request request = new LoadSetup.Request(
                        setup,
                        wanted.secrets() == null ? Map.of() : wanted.secrets(),
                        Boolean.TRUE.equals(wanted.removeUnlisted()));
                return switch (forGood ? loadSetup.load(request, actor) : loadSetup.compare(request, actor)) {
                    case SetupOutcome.Refused(List<FieldFault> faults) ->
                        throw new Answers.Refused(Answers.invalid(faults.stream()
                                .map(fault -> SetupYaml.placed(fault, places))
                                .toList()));
                    case SetupOutcome.Fits fits -> view(String.valueOf(setup.issuer()), fits, forGood);
                };
            }
        }
    }

    private SetupView view(String issuer, SetupOutcome.Fits fits, boolean loaded) {
        Map<String, SecretOnce> made = new LinkedHashMap<>();
        if (loaded) {
            Issuer owner = lookup.issuer(issuer);
            fits.made()
                    .forEach(one -> made.put(one.client().name(), views.secretOnce(owner, one.client(), one.secret())));
        }
        return new SetupView(
                issuer,
                loaded,
                views.steps(fits.steps()),
                made,
                fits.notes().stream().map(note -> Command.at(issuer, note)).toList());
    }
}
