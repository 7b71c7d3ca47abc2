package dev.admit.server;

import dev.admit.contract.ApiWanted;
import dev.admit.contract.ClientWanted;
import dev.admit.contract.IssuerWanted;
import dev.admit.contract.ScopeWanted;
import dev.admit.core.access.AdminApi;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approving;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.Transactions;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.registration.ApiRegistration;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registration.IssuerRegistration;
import dev.admit.core.registration.KeyRegistration;
import dev.admit.core.registration.ScopeRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.store.DataFolder;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/**
 * Makes what an empty service needs to be run at all: the operator issuer, the API that stands for the admin API, and
 * one client that may use it. Its secret is handed over in a file that only the owner of the process can read.
 */
@Component
public class FirstStart {
    public static final String OPERATOR = "operator";

    private final Transactions transactions;
    private final LiveConfiguration live;
    private final Issuers issuers;
    private final IssuerRegistration issuerRegistration;
    private final KeyRegistration keys;
    private final ApiRegistration apiRegistration;
    private final ScopeRegistration scopeRegistration;
    private final ClientRegistration clientRegistration;
    private final Approving approving;
    private final AuthorizationServer.Opened opened;

    FirstStart(
            Transactions transactions,
            LiveConfiguration live,
            Issuers issuers,
            IssuerRegistration issuerRegistration,
            KeyRegistration keys,
            ApiRegistration apiRegistration,
            ScopeRegistration scopeRegistration,
            ClientRegistration clientRegistration,
            Approving approving,
            AuthorizationServer.Opened opened) {
        this.transactions = transactions;
        this.live = live;
        this.issuers = issuers;
        this.issuerRegistration = issuerRegistration;
        this.keys = keys;
        this.apiRegistration = apiRegistration;
        this.scopeRegistration = scopeRegistration;
        this.clientRegistration = clientRegistration;
        this.approving = approving;
        this.opened = opened;
    }

    /** The operator's credential, to be handed over once. */
    public record Credential(String clientId, String secret) {
        @Override
        public String toString() {
            return "Credential[" + clientId + ", hidden]";
        }
    }

    /** Where the credential of a first start lies until a person takes it. */
    public static Path credentialFile(Path data) {
        return data.resolve("operator-credential.json");
    }

    /** @return the credential when this was the first start; it also lies in {@link #credentialFile} */
    public Optional<Credential> prepare() {
        if (issuers.named(AdminApi.ISSUER).isPresent()) {
            bringUpToDate();
            return Optional.empty();
        }
        // In one transaction, and the file before its end: a process killed in between makes it all anew at the next
        // start.
        Credential credential = transactions.inOne(this::makeOperator);
        live.republish();
        return Optional.of(credential);
    }

    /** What an older version did not make for the issuers that it made. */
    private void bringUpToDate() {
        transactions.inOne(() -> {
            issuers.all().forEach(keys::firstOfIdentity);
            return null;
        });
        live.republish();
    }

    private Credential makeOperator() {
        Issuer issuer = made(
                issuerRegistration.create(new IssuerWanted(AdminApi.ISSUER, "Admit's own operators"), Actor.ADMIT));
        Api api = made(apiRegistration.register(
                issuer, new ApiWanted(AdminApi.NAME, "Admin API", opened.publicUrl() + "/admin", null), Actor.ADMIT));
        made(scopeRegistration.add(
                issuer,
                api,
                scope(AdminApi.READ, "reads", "May see everything that is configured, and every decision."),
                Actor.ADMIT));
        made(scopeRegistration.add(
                issuer,
                api,
                scope(AdminApi.CHANGE, "changes", "May change everything that is configured, and approve."),
                Actor.ADMIT));
        List<String> both = List.of(AdminApi.READ, AdminApi.CHANGE);
        made(apiRegistration.change(
                issuer,
                AdminApi.NAME,
                new ApiWanted(null, null, null, null, null, both, null),
                Expected.ANY,
                null,
                Actor.ADMIT));
        ClientRegistration.Registered operator = made(clientRegistration.register(
                issuer, ClientWanted.machine(OPERATOR, "The operator of the first start", both), Actor.ADMIT));
        for (Approval asked : operator.requested())
            made(approving.grant(operator.client(), asked, Optional.empty(), Actor.ADMIT, Expected.ANY));
        Credential credential = new Credential(
                operator.client().id(), operator.secret().orElseThrow().secret().reveal());
        handOver(issuer, credential);
        return credential;
    }

    private static ScopeWanted scope(String name, String effect, String consequence) {
        return new ScopeWanted(
                name, effect, "everyone", "clients", consequence, "administrator", false, "in-use", null, true, null);
    }

    private void handOver(Issuer issuer, Credential credential) {
        URI tokenEndpoint = URI.create(issuer.url() + "/token");
        String json = """
                {"admin_api":"%s/admin","token_endpoint":"%s","client_id":"%s","client_secret":"%s"}
                """.formatted(opened.publicUrl(), tokenEndpoint, credential.clientId(), credential.secret());
        try {
            DataFolder.writePrivately(credentialFile(opened.folder().path()), json);
        } catch (IOException cause) {
            throw new IllegalStateException(
                    "The operator's credential cannot be written to "
                            + credentialFile(opened.folder().path()),
                    cause);
        }
    }

    private static <T> T made(Change<T> change) {
        if (change instanceof Change.Made<T> made) return made.value();
        throw new IllegalStateException("the first start came to " + change);
    }
}
