package dev.admit.acceptance;

import dev.admit.cli.Admit;
import dev.admit.cli.Surroundings;
import java.io.ByteArrayInputStream;
import java.io.File;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.FutureTask;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A service in a process of its own, as a user would have it. */
final class Running implements AutoCloseable {
    static final JsonMapper JSON = new JsonMapper();
    private static final Duration PATIENCE = Duration.ofSeconds(180);

    final Process process;
    final Path home;
    final Path output;
    final int port;
    final int gatewayPort;
    private JsonNode ready;

    private Running(Process process, Path home, Path output, int port, int gatewayPort) {
        this.process = process;
        this.home = home;
        this.output = output;
        this.port = port;
        this.gatewayPort = gatewayPort;
    }

    /** What {@link #demo()} is called where classes say what they share. */
    static final String DEMO = "the shared demo";
    /** The same for {@link #consoles()}. */
    static final String CONSOLES = "the demo of the console's tests";

    private static final Map<String, Running> SHARED = new HashMap<>();

    /** One demo for all tests that leave it as they find it, or add things of their own under names of their own. */
    static Running demo() throws Exception {
        return shared(DEMO);
    }

    /** Another for the console's tests, so that they need not wait for the others. */
    static Running consoles() throws Exception {
        return shared(CONSOLES);
    }

    private static synchronized Running shared(String name) throws Exception {
        if (!SHARED.containsKey(name)) {
            Running running = demo(Files.createTempDirectory("admit-acceptance"));
            Runtime.getRuntime().addShutdownHook(new Thread(running::close));
            SHARED.put(name, running);
        }
        return SHARED.get(name);
    }

    static Running demo(Path folder, String... more) throws Exception {
        return demo(folder, freePort(), freePort(), more);
    }

    static Running demo(Path folder, int port, int gatewayPort, String... more) throws Exception {
        Path readyFile = folder.resolve("ready.json");
        Running demo = launch(
                "dev.admit.demo.DemoMain",
                folder,
                port,
                gatewayPort,
                join(List.of("--ready-file", readyFile.toString(), "--without-history"), more));
        demo.await(() -> Files.exists(readyFile));
        demo.ready = JSON.readTree(Files.readString(readyFile));
        return demo;
    }

    /** {@code admit start} on a data folder; waits until it is ready. */
    static Running service(Path folder, Path data, String... more) throws Exception {
        Running service = launch(
                "dev.admit.server.Main",
                folder,
                freePort(),
                freePort(),
                join(List.of("--data", data.toString()), more));
        service.await(() -> Files.readString(service.output).contains("Gateway  "));
        return service;
    }

    /** The same, started to fail: waits until the process ends. */
    static Running ending(Path folder, int port, int gatewayPort, String... more) throws Exception {
        Running service = launch("dev.admit.server.Main", folder, port, gatewayPort, List.of(more));
        if (!service.process.waitFor(PATIENCE.toSeconds(), TimeUnit.SECONDS)) {
            service.close();
            throw new AssertionError("it did not end: " + Files.readString(service.output));
        }
        return service;
    }

    private static Running launch(String main, Path folder, int port, int gatewayPort, List<String> more)
            throws IOException {
        Path output = Files.createTempFile(folder, "output", ".txt");
        List<String> command = new ArrayList<>(service(main));
        command.addAll(List.of("--port", String.valueOf(port), "--gateway-port", String.valueOf(gatewayPort)));
        command.addAll(more);
        ProcessBuilder builder =
                new ProcessBuilder(command).redirectErrorStream(true).redirectOutput(output.toFile());
        builder.environment().put("ADMIT_HOME", folder.resolve("home").toString());
        return new Running(builder.start(), folder.resolve("home"), output, port, gatewayPort);
    }

    /** How a program of the service is started: as the launcher does it, with what it keeps to start quickly. */
    static List<String> service(String main) {
        Path built = projectRoot().resolve("demo/target");
        List<String> command = new ArrayList<>(List.of(
                java(),
                "-Xmx256m",
                "-XX:+UseSerialGC",
                "--enable-native-access=ALL-UNNAMED",
                "-cp",
                built.resolve("admit-demo-0.1.0.jar") + File.pathSeparator + built.resolve("lib") + "/*",
                main));
        // A test is over before the second compiler's work has paid for itself, and two cores are few.
        command.add(1, "-XX:TieredStopAtLevel=1");
        if (!Archive.MADE.isEmpty()) command.add(1, "-XX:AOTCache=" + Archive.MADE.getFirst());
        return command;
    }

    /** Made once, when the first service is to start. */
    private static final class Archive {
        /** Of the service, then of the command line; empty where this Java makes none. */
        static final List<String> MADE = made();

        private static List<String> made() {
            try {
                ProcessBuilder builder =
                        new ProcessBuilder(projectRoot().resolve("admit").toString(), "--archive-start");
                builder.environment()
                        .put("ADMIT_JAVA_HOME", System.getProperty("java.home")); // an archive is of one Java
                Process launcher = builder.start();
                List<String> paths = new String(launcher.getInputStream().readAllBytes())
                        .lines()
                        .toList();
                launcher.waitFor();
                return paths;
            } catch (IOException | InterruptedException failed) {
                throw new IllegalStateException("the launcher does not run", failed);
            }
        }
    }

    private static List<String> join(List<String> some, String... more) {
        List<String> all = new ArrayList<>(some);
        all.addAll(List.of(more));
        return all;
    }

    /** The settings of a .env file that is part of an answer, as a shell reads them. */
    static Map<String, String> env(JsonNode of) {
        return of.path("env")
                .asString()
                .lines()
                .map(line -> line.split("=", 2))
                .collect(Collectors.toMap(
                        it -> it[0], it -> it[1].replaceAll("^'|'$", "").replace("'\\''", "'")));
    }

    static String java() {
        return Path.of(System.getProperty("java.home"), "bin", "java").toString();
    }

    /**
     * A library of the tests, as a file.
     *
     * @param name such as {@code nimbus-jose-jwt}
     */
    static String jar(String name) {
        return Arrays.stream(System.getProperty("java.class.path").split(File.pathSeparator))
                .filter(jar -> jar.contains(name))
                .findFirst()
                .orElseThrow();
    }

    static int freePort() throws IOException {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }

    private interface Condition {
        boolean holds() throws IOException;
    }

    private void await(Condition condition) throws Exception {
        long end = System.nanoTime() + PATIENCE.toNanos();
        while (!condition.holds()) {
            if (!process.isAlive() || System.nanoTime() > end) {
                close();
                throw new AssertionError("it did not start: " + Files.readString(output));
            }
            Thread.sleep(50);
        }
    }

    /** The ready file of a demo. */
    JsonNode ready() {
        return ready;
    }

    String server() {
        return "http://127.0.0.1:" + port;
    }

    /** Another name than the authorization server's, so that the two share no cookies. */
    String gateway() {
        return "http://localhost:" + gatewayPort;
    }

    String said() throws IOException {
        return Files.readString(output);
    }

    /** What a command of the command line came to. */
    record Said(int exitCode, String out, String err) {
        JsonNode json() {
            return JSON.readTree(out);
        }

        String all() {
            return out + err;
        }
    }

    /**
     * Runs the command line, signed in to this service if it is a demo: within this process, by the very entrance that
     * a process of its own takes, because starting one takes longer than most commands do.
     */
    Said admit(String... words) throws Exception {
        return admit("", Map.of(), words);
    }

    Said admit(String input, Map<String, String> environment, String... words) throws Exception {
        Map<String, String> around = new HashMap<>(System.getenv());
        around.put("ADMIT_HOME", home.toString());
        around.putAll(environment);
        StringWriter out = new StringWriter();
        StringWriter err = new StringWriter();
        FutureTask<Integer> one = new FutureTask<>(() -> Admit.run(
                new Surroundings(
                        around,
                        new ByteArrayInputStream(input.getBytes(StandardCharsets.UTF_8)),
                        new PrintWriter(out, true),
                        new PrintWriter(err, true),
                        false),
                words));
        Thread.ofVirtual().name("admit").start(one);
        try {
            return new Said(one.get(60, TimeUnit.SECONDS), out.toString(), err.toString());
        } catch (TimeoutException late) {
            one.cancel(true);
            throw new AssertionError("admit " + String.join(" ", words) + " did not end", late);
        }
    }

    /** The same in a process of its own. */
    Said process(String... words) throws Exception {
        return process("", Map.of(), words);
    }

    Said process(String input, Map<String, String> environment, String... words) throws Exception {
        Path out = Files.createTempFile("out", ".txt");
        Path err = Files.createTempFile("err", ".txt");
        ProcessBuilder builder =
                commandLine(home, List.of(words)).redirectOutput(out.toFile()).redirectError(err.toFile());
        builder.environment().putAll(environment);
        Process one = builder.start();
        try (var stdin = one.outputWriter()) {
            stdin.write(input);
        }
        if (!one.waitFor(60, TimeUnit.SECONDS)) {
            one.destroyForcibly();
            throw new AssertionError("admit " + String.join(" ", words) + " did not end");
        }
        Said said = new Said(one.exitValue(), Files.readString(out), Files.readString(err));
        Files.delete(out);
        Files.delete(err);
        return said;
    }

    /**
     * The command line as a process that is not started yet.
     *
     * @param home where it keeps which servers it is signed in to
     */
    ProcessBuilder commandLine(Path home, List<String> words) {
        Path built = projectRoot().resolve("cli/target");
        List<String> command = new ArrayList<>(List.of(
                java(),
                "-XX:TieredStopAtLevel=1",
                "-XX:+UseSerialGC",
                "-Djdk.console=java.base",
                "-Djdk.reflect.useNativeAccessorOnly=true",
                "-cp",
                built.resolve("admit-cli-0.1.0.jar") + File.pathSeparator + built.resolve("lib") + "/*",
                "dev.admit.cli.Admit"));
        if (!Archive.MADE.isEmpty())
            command.addAll(1, List.of("-XX:AOTCache=" + Archive.MADE.getLast(), "-Xlog:aot=off"));
        command.addAll(words);
        ProcessBuilder builder = new ProcessBuilder(command);
        builder.environment().put("ADMIT_HOME", home.toString());
        return builder;
    }

    @Override
    public void close() {
        process.destroy();
        try {
            if (!process.waitFor(15, TimeUnit.SECONDS))
                process.destroyForcibly().waitFor();
        } catch (InterruptedException interrupted) {
            process.destroyForcibly();
            Thread.currentThread().interrupt();
        }
    }

    static Path projectRoot() {
        return new File(System.getProperty("basedir", "."))
                .toPath()
                .toAbsolutePath()
                .getParent();
    }
}
