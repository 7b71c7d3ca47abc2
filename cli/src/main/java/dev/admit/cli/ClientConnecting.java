package dev.admit.cli;

import dev.admit.contract.ConnectingView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

@Command(
        name = "connecting",
        description =
                "Show what the developer of a client needs: addresses, scopes, a .env file, and programs that work "
                        + "with it.",
        footer = {
            "",
            "Example: admit client connecting berth-desk",
            "Example: admit client connecting berth-desk --env > .env",
            "Example: admit client connecting tide-buoy-07 --code connect.py > connect.py"
        })
final class ClientConnecting implements Runnable {
    @Mixin
    Common common;

    @Parameters(paramLabel = "CLIENT")
    String name;

    @Mixin
    Programs programs;

    @Override
    public void run() {
        Admin.Answer<ConnectingView> answer =
                common.admin().get(common.path("clients", name, "connecting"), ConnectingView.class);
        ConnectingView it = answer.value();
        programs.tell(
                common.out(),
                it.env(),
                it.code(),
                () -> common.say(answer.json(), () -> {
                    common.out()
                            .fields(
                                    "Kind",
                                    it.kind(),
                                    "Client id",
                                    it.clientId(),
                                    "Issuer",
                                    it.issuer(),
                                    "Authorization",
                                    it.authorizationEndpoint(),
                                    "Token",
                                    it.tokenEndpoint(),
                                    "Device",
                                    it.deviceAuthorizationEndpoint(),
                                    "Redirect URI",
                                    it.redirectUri(),
                                    "PKCE",
                                    it.pkce(),
                                    "Audience",
                                    String.join("\n", it.audiences()),
                                    "Scope",
                                    it.scope());
                    common.out()
                            .done(
                                    "Programs: " + String.join(", ", it.code().keySet()) + ".",
                                    Http.command(
                                            "admit client connecting %s --code %s",
                                            name, it.code().keySet().iterator().next()));
                }));
    }
}
