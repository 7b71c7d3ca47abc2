package dev.admit.demo;

import dev.admit.core.change.Known;
import java.nio.file.Path;

/** What a demo prints when it is up: where things listen, which credentials, and five lines to try. */
final class Welcome {
    private Welcome() {}

    /** @param server an option for commands when another server is the current one */
    static void print(ReadyFile ready, Path folder, boolean temporary, String server) {
        StringBuilder text = new StringBuilder("\nSaltmarsh Harbour is open.\n\n");
        row(text, "Issuer", ready.issuers().get(Harbour.ISSUER) + "   issuer harbour; gullwing is its neighbour");
        row(text, "Admin API", ready.adminApi());
        row(
                text,
                "Console",
                ready.console()
                        + "   for the people of harbour or gullwing who run it, or of admit for the whole service");
        row(text, "Gateway", ready.gateway());
        row(text, "Data", folder + (temporary ? "   removed at the end" : "   stays"));
        row(
                text,
                "Operator",
                ready.operator().clientId() + "   admit on this machine is signed in as it until the demo ends");
        ready.clients().forEach((name, it) -> {
            if (it.kind().equals("machine"))
                row(
                        text,
                        name,
                        it.clientId() + "   " + String.join(" ", it.scopes())
                                + (it.granted() ? "   granted" : "   waiting"));
        });
        text.append("\n  People sign in at ")
                .append(ready.issuers().get(Harbour.ISSUER))
                .append("/profile\n");
        for (ReadyFile.OnePerson it : ready.people()) {
            String more = (it.totpSeed() == null ? "" : "   and a second factor")
                    + (it.issuer().equals(Harbour.ISSUER) ? "" : "   at " + it.issuer());
            text.append("    ")
                    .append(it.login())
                    .append(" ".repeat(Math.max(1, 34 - it.login().length())))
                    .append(it.password())
                    .append(more)
                    .append('\n');
        }
        text.append("\n  Applications: http://127.0.0.1:")
                .append(QuaysideBoard.PORT)
                .append("/ (a page), http://127.0.0.1:")
                .append(BerthDesk.PORT)
                .append("/ (with a server);\n  demo/apps has a native one and a kiosk, for: ")
                .append(ready.issuers().get(Harbour.ISSUER))
                .append(' ')
                .append(ready.gateway())
                .append(" CLIENT-ID\n");
        for (String name : java.util.List.of("pilot-tablet", "ferry-kiosk", "admit-command-line"))
            text.append("    ")
                    .append(name)
                    .append(" ".repeat(22 - name.length()))
                    .append(Known.in(ready.clients(), name).clientId())
                    .append('\n');
        text.append("\nFive lines to try, in another terminal:\n\n");
        line(text, "./admit call GET /tides/north-quay --as tide-buoy-07" + server, "admitted");
        line(text, "./admit call GET /tides/north-quay" + server, "401, no token");
        line(
                text,
                "./admit call POST /tides/readings --as tide-buoy-07 --scope tides.read" + server,
                "403, wrong scope");
        line(text, "./admit call GET /berths/n1 --as tide-buoy-07 --scope tides.read" + server, "401, wrong audience");
        line(text, "./admit call GET /manifests/v-204 --as night-audit" + server, "not approved, no token");
        text.append("\nThen: ./admit decision list")
                .append(server)
                .append(" shows what was decided, and why. Stop with Ctrl C.\n");
        System.out.println(text);
    }

    private static void row(StringBuilder text, String name, String value) {
        text.append("  ")
                .append(name)
                .append(" ".repeat(Math.max(1, 14 - name.length())))
                .append(value)
                .append('\n');
    }

    private static void line(StringBuilder text, String command, String expected) {
        text.append("  ")
                .append(command)
                .append(" ".repeat(Math.max(2, 74 - command.length())))
                .append("# ")
                .append(expected)
                .append('\n');
    }
}
