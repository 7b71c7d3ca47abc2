package dev.admit.server.programs;

import dev.admit.contract.ConnectingView;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/**
 * What a client's developer needs to connect: the addresses and values of its kind, and programs that work with them.
 */
@Component
public class ConnectClient {
    private static final List<String> PROGRAMS =
            List.of("Connect.java", "connect.mjs", "connect.py", "connect.go", "Connect.cs");

    /** How a client gets its tokens, and in which languages that is shown. */
    private enum Way {
        MACHINE("machine", PROGRAMS),
        ASSERTION("assertion", PROGRAMS),
        SIGN_IN("sign-in", PROGRAMS),
        BROWSER("browser", List.of("connect.js")),
        DEVICE("device", PROGRAMS);

        private final String folder;
        private final List<String> files;

        Way(String folder, List<String> files) {
            this.folder = folder;
            this.files = files;
        }

        static Way of(Client client) {
            if (client.kind() == ClientKind.BROWSER) return BROWSER;
            if (client.kind() == ClientKind.DEVICE) return DEVICE;
            if (client.kind().hasRedirects()) return SIGN_IN;
            return client.tokenEndpointAuthMethod() == ClientAuthMethod.PRIVATE_KEY_JWT ? ASSERTION : MACHINE;
        }
    }

    private final LiveConfiguration configuration;
    private final Approvals approvals;

    ConnectClient(LiveConfiguration configuration, Approvals approvals) {
        this.configuration = configuration;
        this.approvals = approvals;
    }

    public ConnectingView of(Issuer owner, Client found) {
        CompiledIssuer inForce = configuration.get().issuer(owner.name()).orElseThrow();
        Way way = Way.of(found);
        List<String> asked = approvals.ofClient(found.id()).stream()
                .map(Approval::scopeName)
                .sorted()
                .toList();
        boolean signsIn = way == Way.SIGN_IN || way == Way.BROWSER;
        Stream<String> own = way == Way.MACHINE || way == Way.ASSERTION ? Stream.of() : found.openidScopes().stream();
        String scope = Stream.concat(own, asked.stream()).collect(Collectors.joining(" "));
        List<String> audiences = asked.stream()
                .map(inForce.scopesByName()::get)
                .filter(Objects::nonNull)
                .map(Scope::apiId)
                .distinct()
                .map(inForce.apisById()::get)
                .filter(Objects::nonNull)
                .map(Api::audience)
                .toList();
        @Nullable
        String redirect = signsIn && !found.addresses().redirects().isEmpty()
                ? found.addresses().redirects().getFirst()
                : null;
        Map<String, String> code = Programs.in("/connecting/" + way.folder, way.files);
        return new ConnectingView(
                found.kind().toString(),
                found.id(),
                inForce.url(),
                signsIn ? inForce.url() + "/authorize" : null,
                inForce.url() + "/token",
                way == Way.DEVICE ? inForce.url() + "/device_authorization" : null,
                redirect,
                signsIn ? "S256" : null,
                audiences,
                scope,
                env(found, inForce, way, redirect, scope),
                code);
    }

    private static String env(Client client, CompiledIssuer issuer, Way way, @Nullable String redirect, String scope) {
        DotEnv env = new DotEnv()
                .with("ISSUER", issuer.url())
                .with("TOKEN_ENDPOINT", issuer.url() + "/token")
                .with("CLIENT_ID", client.id());
        if (way == Way.SIGN_IN || way == Way.BROWSER)
            env.with("AUTHORIZATION_ENDPOINT", issuer.url() + "/authorize")
                    .with("REDIRECT_URI", redirect == null ? "" : redirect);
        if (way == Way.DEVICE) env.with("DEVICE_AUTHORIZATION_ENDPOINT", issuer.url() + "/device_authorization");
        if (client.tokenEndpointAuthMethod().hasSecret())
            env.with("AUTH_METHOD", client.tokenEndpointAuthMethod()).with("CLIENT_SECRET", "");
        if (client.tokenEndpointAuthMethod() == ClientAuthMethod.PRIVATE_KEY_JWT) env.with("PRIVATE_KEY", "");
        return env.with("SCOPE", scope).toString();
    }
}
