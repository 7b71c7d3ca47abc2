package dev.admit.core.setup;

import dev.admit.contract.UpstreamCredentialWanted;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Expected;
import dev.admit.core.registry.Issuer;
import dev.admit.core.upstream.UpstreamCredential;
import dev.admit.core.upstream.UpstreamCredentials;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Loads the upstream credentials of a setup file.
 *
 * @param secrets by the name of the credential, with {@link #BEFORE} before it
 */
record LoadCredentials(
        LoadSetup.UseCases use, LoadSetup.Records records, SetupSteps steps, Map<String, String> secrets, Actor by) {
    static final String BEFORE = "upstream-credential ";

    void load(Issuer issuer, String name, Setup.@Nullable CredentialPart said) {
        Setup.CredentialPart part = said == null ? Setup.CredentialPart.NOTHING : said;
        Optional<UpstreamCredential> before =
                records.credentials().named(issuer.id(), name).map(UpstreamCredentials.Stored::credential);
        UpstreamCredentialWanted wanted = new UpstreamCredentialWanted(
                before.isPresent() ? null : name,
                unlessSame(part.upstream(), before.map(it -> it.upstream().toString())),
                part.header(),
                part.user(),
                part.clientId(),
                secrets.get(BEFORE + name),
                unlessSame(part.issuer(), before.flatMap(LoadCredentials::issuerOf)),
                unlessSame(part.tokenEndpoint(), before.flatMap(LoadCredentials::endpointOf)),
                part.auth(),
                part.scope(),
                part.parameters());
        steps.settle(
                        "/upstream_credentials/" + SetupSteps.escaped(name),
                        before.isPresent()
                                ? use.credentials().change(issuer, name, wanted, Expected.ANY, by)
                                : use.credentials().add(issuer, wanted, by))
                .ifPresent(after -> steps.step("upstream credential " + name, before, after));
    }

    /** Where a file says what is there already, no address changes, and the secret need not be said again. */
    private static @Nullable String unlessSame(@Nullable String said, Optional<String> there) {
        return said != null && there.equals(Optional.of(said)) ? null : said;
    }

    private static Optional<String> issuerOf(UpstreamCredential it) {
        return it.shown() instanceof UpstreamCredential.Shown.Token token
                ? token.issuer().map(Object::toString)
                : Optional.empty();
    }

    private static Optional<String> endpointOf(UpstreamCredential it) {
        return it.shown() instanceof UpstreamCredential.Shown.Token token
                ? token.tokenEndpoint().map(Object::toString)
                : Optional.empty();
    }
}
