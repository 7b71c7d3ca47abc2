package dev.admit.server.pages;

import dev.admit.core.change.Known;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.registry.Client;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * One thing of their account that a client sent a person to do, and where it gets them back: one of its registered
 * redirect URIs, compared as exactly as for a code.
 *
 * @param state of the client, handed back as it came
 */
record AccountTask(Client client, String back, String state) {
    private static final int LONGEST_STATE = 500;

    /** Empty when none was named, or one that is not the client's: then the person is simply on their own page. */
    static Optional<AccountTask> read(Visit visit, KnownClients clients) {
        Optional<String> back = visit.form().one("back");
        return visit.form()
                .one("client_id")
                .flatMap(clients::find)
                .map(known -> known.client())
                .filter(client -> client.enabled()
                        && !client.selfRegistered() // it would send people on from a page that they trust
                        && client.issuerId().equals(visit.issuer().issuer().id())
                        && back.filter(client.addresses().redirects()::contains).isPresent())
                .map(client -> new AccountTask(
                        client,
                        back.orElseThrow(),
                        visit.form()
                                .one("state")
                                .filter(it -> it.length() <= LONGEST_STATE)
                                .orElse("")));
    }

    /**
     * The same, on its way through signing in.
     *
     * @param page where it is done
     */
    Flow flow(String page, java.time.Instant now) {
        return new Flow(
                Map.of(
                        "task",
                        List.of(page),
                        "client_id",
                        List.of(client.id()),
                        "redirect_uri",
                        List.of(back),
                        "state",
                        List.of(state)),
                now.toEpochMilli(),
                "",
                "");
    }

    /**
     * A page of the issuer, with its query, that a person comes back to from signing in.
     *
     * @param page of ours: it is followed as it is
     */
    static Flow backTo(String page, java.time.Instant now) {
        return new Flow(Map.of("task", List.of(page)), now.toEpochMilli(), "", "");
    }

    /** Where a flow that carries a task goes on. */
    static Optional<String> pathOf(Flow flow) {
        Optional<String> page = Optional.ofNullable(flow.asked().get("task")).map(List::getFirst);
        if (flow.clientId().isEmpty()) return page;
        return page.map(task -> task + "?client_id="
                + encoded(Known.in(flow.asked(), "client_id").getFirst()) + "&back="
                + encoded(Known.in(flow.asked(), "redirect_uri").getFirst()) + "&state="
                + encoded(Known.in(flow.asked(), "state").getFirst()));
    }

    /** @param outcome {@code changed} or {@code unchanged} */
    String returning(Visit visit, String outcome) {
        return back + (back.contains("?") ? "&" : "?") + "outcome=" + outcome
                + (state.isEmpty() ? "" : "&state=" + encoded(state)) + "&iss="
                + encoded(visit.issuer().url());
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }
}
