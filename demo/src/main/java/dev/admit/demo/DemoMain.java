package dev.admit.demo;

import dev.admit.cli.SavedServers;
import dev.admit.core.access.AdminApi;
import dev.admit.core.change.Known;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuers;
import dev.admit.server.AuthorizationServer;
import dev.admit.server.FirstStart;
import dev.admit.server.Main;
import dev.admit.server.StartOptions;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** {@code admit demo}: the whole service with the data of Saltmarsh Harbour, and its backends as stand-ins. */
@Command(
        name = "admit demo",
        mixinStandardHelpOptions = true,
        sortOptions = false,
        description =
                "Starts the authorization server, the gateway and stand-ins for three APIs on loopback, with demo "
                        + "data.",
        footer = {"", "Example: admit demo --ready-file /tmp/ready.json"})
public final class DemoMain implements Callable<Integer> {
    private static final String SERVER = "demo";

    @Mixin
    private StartOptions options;

    @Option(
            names = "--data",
            paramLabel = "DIR",
            description = "Folder that stays. Default: a temporary one, removed at the end.")
    private Path data;

    @Option(
            names = "--ready-file",
            paramLabel = "FILE",
            description = "Written as JSON, at once and whole, when everything answers.")
    private Path readyFile;

    @Option(names = "--without-history", description = "Send no requests of its own at the start.")
    private boolean withoutHistory;

    public static void main(String[] args) {
        System.exit(Main.run(new DemoMain(), args));
    }

    @Override
    public Integer call() throws IOException, InterruptedException {
        boolean temporary = data == null;
        Path folder = temporary ? Files.createTempDirectory("admit-demo") : data;
        Running running;
        try {
            running = Running.start(options, folder);
        } catch (RuntimeException | IOException notStarted) {
            if (temporary) remove(folder);
            throw notStarted;
        }
        ReadyFile ready = running.describe();
        boolean current = saveServer(ready, running);
        if (readyFile != null) ready.write(readyFile);
        List<AutoCloseable> apps = running.startApps(ready);
        Welcome.print(ready, folder, temporary, current ? "" : " --server " + SERVER);
        running.server().elsewhere().ifPresent(note -> System.out.println("Note: " + note));
        // Only where nothing came yet: what really came is better.
        if (temporary && !withoutHistory)
            Thread.ofVirtual().name("history").start(new History(running.server(), ready)::make);
        Main.stopOnSignal(() -> {
                    for (AutoCloseable app : apps) app.close();
                    running.close();
                    forgetServer(ready);
                    if (readyFile != null) Files.deleteIfExists(readyFile);
                    if (temporary) remove(folder);
                })
                .await();
        return 0;
    }

    /** The parts of a demo that is up. */
    private record Running(
            AuthorizationServer server,
            List<StandIn> standIns,
            FirstStart.Credential operator,
            List<Harbour.DemoClient> clients,
            Harbour harbour,
            List<ReadyFile.OnePerson> people,
            CoastguardStandIn coastguard)
            implements AutoCloseable {

        static Running start(StartOptions options, Path folder) throws IOException {
            AuthorizationServer server =
                    AuthorizationServer.start(options.settings(folder).forDemo());
            StandIn tides = new TidesStandIn();
            StandIn berths = new BerthsStandIn();
            StandIn manifests = new ManifestsStandIn();
            CustomsStandIn customs = new CustomsStandIn();
            CoastguardStandIn coastguard = new CoastguardStandIn();
            List<StandIn> standIns = List.of(tides, berths, manifests, customs, coastguard);
            for (Map.Entry<String, StandIn> it : Map.of("tides", tides, "berths", berths, "manifests", manifests)
                    .entrySet()) {
                it.getValue()
                        .start(new ProofCheck(
                                server.gatewayUrl().resolve("/_admit/proof-keys"),
                                server.publicUrl() + "/" + Harbour.ISSUER,
                                "https://%s.saltmarsh.example".formatted(it.getKey())));
            }
            customs.start(null);
            coastguard.start(null);
            FirstStart.Credential operator = operator(server, folder);
            Map<String, URI> upstreams =
                    Map.of("tides", tides.url(), "berths", berths.url(), "manifests", manifests.url());
            Harbour harbour = new Harbour(server, upstreams, customs, coastguard);
            return new Running(
                    server,
                    standIns,
                    operator,
                    harbour.prepare(),
                    harbour,
                    new DemoPeople(server).prepare(),
                    coastguard);
        }

        private static FirstStart.Credential operator(AuthorizationServer server, Path folder) throws IOException {
            Optional<FirstStart.Credential> first =
                    server.part(FirstStart.class).prepare();
            Files.deleteIfExists(FirstStart.credentialFile(folder)); // the ready file and the table hand it over
            if (first.isPresent()) return first.get();
            var issuer = server.part(Issuers.class).named(AdminApi.ISSUER).orElseThrow();
            var operator = server.part(Clients.class)
                    .named(issuer.id(), FirstStart.OPERATOR)
                    .orElseThrow();
            return new FirstStart.Credential(operator.id(), Harbour.freshSecret(server, issuer, operator));
        }

        ReadyFile describe() {
            Map<String, ReadyFile.OneClient> described = new LinkedHashMap<>();
            for (Harbour.DemoClient it : clients) {
                described.put(it.client().name(), ReadyFile.OneClient.of(it));
            }
            return new ReadyFile(
                    server.publicUrl() + "/admin",
                    server.gatewayUrl().toString(),
                    server.publicUrl() + "/console",
                    harbour.issuerUrls(),
                    new ReadyFile.Operator(operator.clientId(), operator.secret()),
                    described,
                    people,
                    harbour.routes().stream().map(ReadyFile.OneRoute::of).toList(),
                    new ReadyFile.Outside(
                            coastguard.url().toString(), CoastguardStandIn.PATROL_BOAT, coastguard.secret()));
        }

        /**
         * Those whose ports, which their registrations name, are free: of several demos on one machine one has them.
         */
        List<AutoCloseable> startApps(ReadyFile ready) {
            String issuer = Known.in(ready.issuers(), Harbour.ISSUER);
            ReadyFile.OneClient desk = Known.in(ready.clients(), "berth-desk");
            List<AutoCloseable> apps = new ArrayList<>();
            QuaysideBoard.start(
                            issuer,
                            ready.gateway(),
                            Known.in(ready.clients(), "quayside-board").clientId())
                    .ifPresent(apps::add);
            if (desk.clientSecret() != null)
                BerthDesk.start(issuer, ready.gateway(), desk.clientId(), desk.clientSecret())
                        .ifPresent(apps::add);
            return apps;
        }

        @Override
        public void close() {
            server.close();
            standIns.forEach(StandIn::close);
        }
    }

    /**
     * Signs this user's command line in to the demo until it ends.
     *
     * @return whether it is the current server; another one that is in use stays
     */
    private static boolean saveServer(ReadyFile ready, Running running) {
        String tokens = ready.issuers().get(Harbour.ISSUER) + "/token";
        Map<String, SavedServers.Credential> clients = new LinkedHashMap<>();
        for (Harbour.DemoClient it : running.clients()) {
            if (it.credential().isEmpty()) continue;
            clients.put(
                    Harbour.ISSUER + "/" + it.client().name(),
                    new SavedServers.Credential(
                            tokens,
                            it.client().id(),
                            it.credential(),
                            it.client().tokenEndpointAuthMethod().toString()));
        }
        SavedServers.Credential operator = new SavedServers.Credential(
                ready.issuers().get(AdminApi.ISSUER) + "/token",
                running.operator().clientId(),
                running.operator().secret(),
                "client_secret_basic");
        SavedServers.Server server =
                new SavedServers.Server(ready.adminApi(), ready.gateway(), Harbour.ISSUER, operator, clients);
        SavedServers.Contents after = SavedServers.of(System.getenv())
                .change(contents -> contents.with(
                        SERVER,
                        server,
                        contents.current() == null || contents.current().equals(SERVER)));
        return SERVER.equals(after.current());
    }

    private static void forgetServer(ReadyFile ready) {
        SavedServers.of(System.getenv()).change(contents -> {
            SavedServers.Server saved = contents.servers().get(SERVER);
            boolean ours = saved != null
                    && saved.operator().clientId().equals(ready.operator().clientId());
            return ours ? contents.without(SERVER) : contents; // another demo may have taken the name since
        });
    }

    private static void remove(Path folder) {
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path each : all.sorted(Comparator.reverseOrder()).toList()) Files.deleteIfExists(each);
        } catch (IOException cause) {
            System.err.println("The temporary folder " + folder + " could not be removed: " + cause.getMessage());
        }
    }
}
