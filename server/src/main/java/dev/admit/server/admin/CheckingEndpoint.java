package dev.admit.server.admin;

import dev.admit.contract.CheckingView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.Command;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Minting;
import dev.admit.core.registry.Scope;
import dev.admit.server.programs.DotEnv;
import dev.admit.server.programs.Programs;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** For an API that checks tokens itself: the values it needs, and examples that work with them. */
@RestController
class CheckingEndpoint {
    private static final List<String> EXAMPLES = List.of("Check.java", "check.mjs", "check.py", "check.go", "Check.cs");

    private final LiveConfiguration configuration;
    private final Lookup lookup;
    private final Clock clock;

    CheckingEndpoint(LiveConfiguration configuration, Lookup lookup, Clock clock) {
        this.configuration = configuration;
        this.lookup = lookup;
        this.clock = clock;
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.API)
    @GetMapping("/admin/issuers/{issuer}/apis/{api}/checking")
    CheckingView checking(@PathVariable String issuer, @PathVariable String api) {
        Issuer owner = lookup.issuer(issuer);
        Api found = lookup.api(owner, api);
        CompiledIssuer inForce = configuration.get().issuer(owner.name()).orElseThrow(Lookup.absent("issuer", issuer));
        List<String> algorithms = inForce.keys().algorithmsAt(clock.instant());
        List<String> scopes = inForce.scopesByName().values().stream()
                .filter(scope -> scope.apiId().equals(found.id()))
                .map(Scope::name)
                .sorted()
                .toList();
        String env = new DotEnv()
                .with("ISSUER", inForce.url())
                .with("JWKS_URI", inForce.url() + "/jwks")
                .with("AUDIENCE", found.audience())
                .with("ALGORITHMS", String.join(" ", algorithms))
                .toString();
        Map<String, String> code = Programs.in("/checking", EXAMPLES);
        return new CheckingView(
                found.name(),
                inForce.url(),
                inForce.url() + "/jwks",
                found.audience(),
                algorithms,
                scopes,
                inForce.url() + "/introspect",
                env,
                code,
                notes(found, algorithms));
    }

    private static List<String> notes(Api api, List<String> algorithms) {
        List<String> notes = new ArrayList<>();
        if (api.minting().format() == Minting.Format.OPAQUE) {
            notes.add("Tokens of this API are opaque: they can only be asked about at the introspection endpoint. "
                    + "Make a secret for that with: "
                    + Command.of("api", "secret", "add", api.name()));
        }
        if (algorithms.contains("EdDSA"))
            notes.add("The library of the Java example takes EdDSA only with a second library for it "
                    + "(com.google.crypto.tink:tink).");
        notes.add("When the issuer brings in a key for another algorithm, add that to ALGORITHMS before it signs.");
        notes.add("A token that was withdrawn stays good for the one who checks by themselves until it expires; ask at "
                + "the introspection endpoint, or let the gateway check, where that is too late.");
        return notes;
    }
}
