package dev.admit.cli;

import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;

@Command(
        name = "sign-out",
        description = "Forget a server and every credential kept for it.",
        footer = {"", "Example: admit sign-out --server demo"})
final class SignOut implements Runnable {
    @Mixin
    Common common;

    @Override
    public void run() {
        String name = common.serverName != null
                ? common.serverName
                : common.saved().read().current();
        if (name == null || common.saved().named(name).isEmpty()) {
            throw new Failure(
                    Failure.NOT_REACHABLE,
                    "Not signed in to %s. List the servers with: admit server list"
                            .formatted(name == null ? "a server" : name));
        }
        common.saved().change(contents -> contents.without(name));
        common.out().done("Signed out of %s; its credentials are gone from this machine.".formatted(name), null);
    }
}
