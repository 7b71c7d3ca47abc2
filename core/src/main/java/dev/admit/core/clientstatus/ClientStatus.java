package dev.admit.core.clientstatus;

import dev.admit.core.approval.Approval;
import dev.admit.core.authorize.IdentityScopes;
import dev.admit.core.change.Known;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Command;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Scope;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;

/**
 * How a client stands, in sentences.
 *
 * @param may what it may do, each with the API and the scope
 * @param missing what it still lacks to work, each with who must act and the command that does it
 * @param remarks what is worth a second look
 */
public record ClientStatus(List<String> may, List<String> missing, List<String> remarks) {
    private static final Duration SOON = Duration.ofDays(14);

    /** @param owned whether a person answers for it */
    public static ClientStatus of(KnownClient known, CompiledIssuer issuer, boolean owned, Instant now) {
        return new ClientStatus(
                may(known, issuer, now), missing(known, issuer, now), remarks(known, issuer, owned, now));
    }

    /** What it is and how it proves itself, of a client that was just made. */
    public static List<String> proof(KnownClient known) {
        Client client = known.client();
        String proof =
                switch (client.tokenEndpointAuthMethod()) {
                    case CLIENT_SECRET_BASIC -> "It proves itself with a secret.";
                    case CLIENT_SECRET_POST -> "It proves itself with a secret, sent in the form.";
                    case PRIVATE_KEY_JWT -> "It proves itself with a key of its own.";
                    case NONE -> "It keeps no credential; PKCE ties each sign-in to it.";
                };
        List<String> said = new ArrayList<>();
        said.add(
                switch (client.kind()) {
                    case MACHINE -> "It is a program that acts for no person.";
                    case WEB -> "It is a web application with a server of its own.";
                    case BROWSER -> "It is a page without a server of its own.";
                    case NATIVE -> "It is installed on a person's machine.";
                    case DEVICE -> "It is a device without a browser.";
                });
        said.add(proof);
        for (ClientSecret secret : known.secrets())
            said.add(secret.expiresAt()
                    .map(end -> "The secret expires at %s.".formatted(end.truncatedTo(ChronoUnit.SECONDS)))
                    .orElse("The secret never expires."));
        if (client.kind().hasRedirects() && !client.addresses().redirects().isEmpty())
            said.add("People come back to %s."
                    .formatted(String.join(" or ", client.addresses().redirects())));
        return said;
    }

    private static List<String> may(KnownClient known, CompiledIssuer issuer, Instant now) {
        List<String> may = new ArrayList<>();
        for (Approval approval : known.approvals()) {
            Optional<Scope> scope = Optional.ofNullable(issuer.scopesByName().get(approval.scopeName()));
            if (scope.isEmpty() || !scope.get().isGrantedAt(now)) continue;
            Api api = Known.in(issuer.apisById(), scope.get().apiId());
            boolean byEachPerson =
                    byEachPerson(known.client(), scope.get()) && approval.statusAt(now) == Approval.Status.WAITING;
            if (!approval.isGrantedAt(now) && !byEachPerson) continue;
            String until = approval.expiresAt().map(end -> ", until " + end).orElse("");
            may.add("%s: %s (%s%s%s)"
                    .formatted(
                            api.title(),
                            scope.get().consequenceForAdministrator(),
                            scope.get().name(),
                            until,
                            byEachPerson ? ", for each person who approves" : ""));
        }
        return may;
    }

    private static List<String> missing(KnownClient known, CompiledIssuer issuer, Instant now) {
        Client client = known.client();
        List<String> missing = new ArrayList<>();
        if (!client.enabled())
            missing.add("It is switched off. Switch it on with: " + Command.of("client", "on", client.name()));
        if (client.tokenEndpointAuthMethod().hasSecret())
            missingSecret(known, now).ifPresent(missing::add);
        if (client.kind().hasRedirects() && client.addresses().redirects().isEmpty()) {
            missing.add("It has no redirect URI. Add the one at which the application takes people back.");
        }
        if (known.approvals().isEmpty() && client.openidScopes().isEmpty()) {
            missing.add("It requests nothing. Request a scope of the API that it is to call.");
        }
        if (!client.people().openidGranted()
                && client.openidScopes().stream().anyMatch(IdentityScopes::needsAdministrator)) {
            missing.add("It asks to run Admit: an administrator must approve, with: "
                    + Command.of("approval", "openid", client.name()));
        }
        for (Approval approval : known.approvals()) {
            boolean byEachPerson = Optional.ofNullable(issuer.scopesByName().get(approval.scopeName()))
                    .filter(scope -> byEachPerson(client, scope))
                    .isPresent();
            switch (approval.statusAt(now)) {
                case GRANTED -> {}
                case WAITING -> {
                    if (!byEachPerson) {
                        missing.add("It requests %s: an administrator must approve, with: %s"
                                .formatted(
                                        approval.scopeName(),
                                        Command.of("approval", "grant", client.name(), approval.scopeName())));
                    }
                }
                case DECLINED, WITHDRAWN, EXPIRED ->
                    missing.add("The approval of %s is %s. Ask again with: %s"
                            .formatted(
                                    approval.scopeName(),
                                    approval.statusAt(now),
                                    Command.of("approval", "request", client.name(), approval.scopeName())));
            }
        }
        return missing;
    }

    private static Optional<String> missingSecret(KnownClient known, Instant now) {
        if (known.secrets().isEmpty())
            return Optional.of("It has no secret. Make one with: "
                    + Command.of("secret", "add", known.client().name()));
        boolean over = known.secrets().stream().allMatch(secret -> secret.isExpiredAt(now));
        return over
                ? Optional.of("Every secret has expired. Make another with: "
                        + Command.of("secret", "add", known.client().name()))
                : Optional.empty();
    }

    private static List<String> remarks(KnownClient known, CompiledIssuer issuer, boolean owned, Instant now) {
        Client client = known.client();
        List<String> remarks = new ArrayList<>();
        if (client.selfRegistered())
            remarks.add("It registered itself, and nobody has checked what it is. Approve nothing for it unseen.");
        if (!client.selfRegistered() && client.texts().contacts().isEmpty() && !owned)
            remarks.add("Nobody answers for it. Have a person named as its owner.");
        Optional<Instant> lastEnd =
                known.secrets().stream().anyMatch(secret -> secret.expiresAt().isEmpty())
                        ? Optional.empty()
                        : known.secrets().stream()
                                .flatMap(secret -> secret.expiresAt().stream())
                                .max(Instant::compareTo);
        if (lastEnd.filter(end -> end.isAfter(now) && end.isBefore(now.plus(SOON)))
                .isPresent()) {
            remarks.add("Its last secret expires at %s. Replace it with: %s"
                    .formatted(
                            lastEnd.get().truncatedTo(ChronoUnit.SECONDS),
                            Command.of("secret", "replace", client.name())));
        }
        for (ClientSecret secret : known.secrets()) {
            if (secret.expiresAt().isEmpty()) remarks.add("Its secret '%s' never expires.".formatted(secret.label()));
        }
        client.addresses().redirects().stream()
                .filter(address -> address.startsWith("http:") && client.kind() != ClientKind.NATIVE)
                .forEach(address ->
                        remarks.add("%s is an address for development. Remove it before others use the client."
                                .formatted(address)));
        client.addresses().redirects().stream()
                .filter(address -> !address.startsWith("http")
                        && !address.substring(0, address.indexOf(':')).contains("."))
                .forEach(address -> remarks.add(
                        ("%s has a scheme that any application can claim too. Use a domain name turned around, such "
                                        + "as org.saltmarsh.pilot: (RFC 8252 §7.1).")
                                .formatted(address)));
        if (holdsBothKinds(known, issuer, now)) {
            remarks.add("It holds permissions on a person's behalf and others on its own: a person could have it do "
                    + "what they may not. Register two clients instead.");
        }
        return remarks;
    }

    /** Personal and machine permissions in one client: on its own it may do what the person in front of it may not. */
    private static boolean holdsBothKinds(KnownClient known, CompiledIssuer issuer, Instant now) {
        if (!known.client().kind().forPeople() || !known.client().mayUse("client_credentials")) return false;
        List<Scope> held = known.approvals().stream()
                .filter(approval -> approval.isGrantedAt(now))
                .map(approval -> issuer.scopesByName().get(approval.scopeName()))
                .filter(Objects::nonNull)
                .toList();
        return held.stream().anyMatch(scope -> scope.forWhom().clients())
                && (held.stream().anyMatch(scope -> scope.forWhom().people())
                        || !known.client().openidScopes().isEmpty());
    }

    /**
     * Who must act while a request waits.
     *
     * @param owners the addresses of those who answer for the API
     */
    public static String waitsFor(Client client, Scope scope, List<String> owners) {
        if (byEachPerson(client, scope)) return "each person";
        return owners.isEmpty() ? "an administrator" : String.join(", ", owners) + " or an administrator";
    }

    private static boolean byEachPerson(Client client, Scope scope) {
        return client.kind().forPeople() && scope.forWhom().people() && scope.approver() == Scope.Approver.PERSON;
    }
}
