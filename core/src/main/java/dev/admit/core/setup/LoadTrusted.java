package dev.admit.core.setup;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.contract.TrustedIssuerWanted;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Expected;
import dev.admit.core.registry.Issuer;
import dev.admit.core.trust.TrustedIssuer;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Loads the trusted issuers of a setup file. Their keys are looked for afterwards. */
record LoadTrusted(LoadSetup.UseCases use, LoadSetup.Records records, SetupSteps steps, Actor by) {
    void load(Issuer issuer, String name, Setup.@Nullable TrustedPart said) {
        Setup.TrustedPart part = said == null ? Setup.TrustedPart.NOTHING : said;
        Optional<TrustedIssuer> before = records.trusted().named(issuer.id(), name);
        TrustedIssuerWanted wanted = new TrustedIssuerWanted(
                before.isPresent() ? null : name,
                part.url(),
                part.metadata(),
                part.jwksUri(),
                part.jwks() == null ? null : JSONObjectUtils.toJSONString(part.jwks()),
                part.algorithms(),
                part.types(),
                part.audience(),
                part.scopeClaim(),
                part.rolesClaim(),
                part.personClaim(),
                part.clientClaim(),
                part.scopes(),
                part.clients());
        steps.settle(
                        "/trusted_issuers/" + SetupSteps.escaped(name),
                        before.isPresent()
                                ? use.trust().change(issuer, name, wanted, Expected.ANY, by)
                                : use.trust().add(issuer, wanted, by))
                .ifPresent(after -> steps.step("trusted issuer " + name, before, after));
    }
}
