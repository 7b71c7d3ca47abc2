package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.MintingPreview;
import dev.admit.contract.MintingView;
import dev.admit.contract.MintingWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Fields;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.expression.Expression;
import dev.admit.core.grant.MintFor;
import dev.admit.core.registration.MintingRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Minting;
import dev.admit.core.token.TokenIds;
import java.time.Clock;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** How tokens are made: of an API, and what that comes to for a client. */
@RestController
@RequestMapping("/admin/issuers/{issuer}")
class MintingEndpoints {
    private final MintingRegistration registration;
    private final LiveConfiguration configuration;
    private final KnownClients clients;
    private final Lookup lookup;
    private final Clock clock;

    MintingEndpoints(
            MintingRegistration registration,
            LiveConfiguration configuration,
            KnownClients clients,
            Lookup lookup,
            Clock clock) {
        this.registration = registration;
        this.configuration = configuration;
        this.clients = clients;
        this.lookup = lookup;
        this.clock = clock;
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.API)
    @GetMapping("/apis/{api}/minting")
    ResponseEntity<MintingView> show(@PathVariable String issuer, @PathVariable String api) {
        Api found = lookup.api(lookup.issuer(issuer), api);
        return Answers.found(view(found), found.version());
    }

    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.API)
    @PatchMapping("/apis/{api}/minting")
    ResponseEntity<Changed<MintingView>> change(
            @PathVariable String issuer,
            @PathVariable String api,
            @RequestBody MintingWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        lookup.apiToChange(owner, api); // a claim that cannot be computed would leave operators without tokens
        return Answers.changed(
                registration.change(owner, api, wanted, Answers.required(ifMatch), actor),
                Api::version,
                (it, notes) -> new Changed<>(view(it), notes));
    }

    /** For each API that the client may call on its own: which values apply, why, and the token that would come. */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.CLIENT)
    @GetMapping("/clients/{client}/minting")
    List<MintingPreview> preview(@PathVariable String issuer, @PathVariable String client) {
        Issuer owner = lookup.issuer(issuer);
        Client found = lookup.client(owner, client);
        CompiledIssuer inForce = configuration.get().issuer(owner.name()).orElseThrow(Lookup.absent("issuer", issuer));
        KnownClient known = clients.find(found.id()).orElseThrow(Lookup.absent("client", client));
        return inForce.apisById().values().stream()
                .sorted(Comparator.comparing(Api::name))
                .flatMap(api -> preview(known, api, inForce).stream())
                .toList();
    }

    private Optional<MintingPreview> preview(KnownClient known, Api api, CompiledIssuer inForce) {
        try {
            // The id is an example: none of the real ones is drawn for it.
            return MintFor.wouldBe(known, api, inForce, new TokenIds(clock, 0).next(), clock.instant())
                    .map(planned -> new MintingPreview(
                            api.name(),
                            api.audience(),
                            Fields.written(planned.applied().lifetime()),
                            planned.applied().format().toString(),
                            planned.applied().why(),
                            planned.claims(),
                            null));
        } catch (Expression.Senseless broken) {
            return Optional.of(new MintingPreview(
                    api.name(), api.audience(), null, null, List.of(), Map.of(), broken.getMessage()));
        }
    }

    static MintingView view(Api api) {
        Minting it = api.minting();
        return new MintingView(
                api.name(),
                Fields.written(it.lifetime()),
                it.format().toString(),
                it.claims().stream()
                        .map(claim -> new MintingView.Claim(claim.name(), claim.expression()))
                        .toList(),
                Fields.written(it.refreshIdleTimeout()),
                Fields.written(it.maxRefreshAge()),
                it.exceptions().stream()
                        .map(one -> new MintingView.Exempt(
                                one.name(),
                                one.clients(),
                                one.tags(),
                                one.grantTypes(),
                                one.lifetime().map(Fields::written).orElse(null),
                                one.format().map(Minting.Format::toString).orElse(null),
                                one.refreshIdleTimeout().map(Fields::written).orElse(null),
                                one.maxRefreshAge().map(Fields::written).orElse(null),
                                one.without()))
                        .toList(),
                api.version());
    }
}
