package dev.admit.core.owner;

import dev.admit.core.approval.Approval;
import dev.admit.core.change.Actor;
import dev.admit.core.decision.Command;
import dev.admit.core.mail.MailCount;
import dev.admit.core.mail.WriteMail;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * Mails those who answer for an API that a client requests its scopes: one mail for all it asks at once, and few to one
 * address.
 */
public final class TellOwners {
    private static final int MOST_TO_ADDRESS = 20;

    private final Owners owners;
    private final Apis apis;
    private final Scopes scopes;
    private final WriteMail mail;
    private final Clock clock;
    private final MailCount sent = new MailCount();

    public TellOwners(Owners owners, Apis apis, Scopes scopes, WriteMail mail, Clock clock) {
        this.owners = owners;
        this.apis = apis;
        this.scopes = scopes;
        this.mail = mail;
        this.clock = clock;
    }

    /**
     * @param asked what has just been asked; what does not wait is left out, and the one who asked is not told what
     *     they know
     */
    public void that(Client client, Issuer issuer, List<Approval> asked, Actor by) {
        Map<String, List<String>> byApi = asked.stream()
                .filter(it -> it.statusAt(clock.instant()) == Approval.Status.WAITING)
                .map(it -> scopes.named(issuer.id(), it.scopeName()))
                .flatMap(Optional::stream)
                .collect(Collectors.groupingBy(
                        Scope::apiId, TreeMap::new, Collectors.mapping(Scope::name, Collectors.toList())));
        byApi.forEach((apiId, names) ->
                apis.named(issuer.id(), apiId).ifPresent(api -> tell(client, issuer, api, names, by)));
    }

    private void tell(Client client, Issuer issuer, Api api, List<String> names, Actor by) {
        String commands = names.stream()
                .map(scope -> "    " + Command.at(issuer.name(), Command.of("approval", "grant", client.name(), scope)))
                .collect(Collectors.joining("\n"));
        for (Owner owner : owners.of(Owned.of(api))) {
            if (owner.personId().equals(by.id())
                    || !sent.isWithin(MOST_TO_ADDRESS, owner.issuerId() + " " + owner.email())) continue;
            mail.write(
                    issuer,
                    owner.email(),
                    "%s: %s requests %s".formatted(issuer.title(), client.name(), String.join(", ", names)),
                    """
                    The client %s (%s) requests %s of %s, for which you answer. It was registered by, or requested \
                    by, %s.

                    Say yes with

                    %s

                    or no with  admit approval decline.  Nothing is granted by requesting.
                    """.formatted(
                                    client.name(),
                                    client.clientName(),
                                    String.join(", ", names),
                                    api.title(),
                                    by.name(),
                                    commands),
                    clock.instant());
        }
    }
}
