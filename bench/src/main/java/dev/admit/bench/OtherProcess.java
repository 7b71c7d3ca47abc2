package dev.admit.bench;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** A process that is measured from outside: its CPU time and memory come from the system's own accounting. */
final class OtherProcess implements AutoCloseable {
    private static final double TICKS_A_SECOND = 100; // USER_HZ on every Linux in use
    private final Process process;
    private final BufferedReader output;

    private OtherProcess(Process process) {
        this.process = process;
        this.output = process.inputReader();
    }

    static OtherProcess start(Class<?> main, List<String> options, Object... arguments) throws IOException {
        List<String> command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "--enable-native-access=ALL-UNNAMED",
                "-XX:+UseSerialGC")); // as the launcher does
        command.addAll(options);
        command.addAll(List.of("-cp", System.getProperty("java.class.path"), main.getName()));
        for (Object argument : arguments) command.add(String.valueOf(argument));
        ProcessBuilder builder = new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.INHERIT);
        builder.environment().put("MALLOC_ARENA_MAX", "2");
        return new OtherProcess(builder.start());
    }

    String line() throws IOException {
        String line = output.readLine();
        if (line == null) throw new IOException("the process ended");
        return line;
    }

    /** User and system time so far, in seconds. */
    double cpuSeconds() throws IOException {
        String stat = Files.readString(Path.of("/proc", String.valueOf(process.pid()), "stat"));
        String[] fields = stat.substring(stat.lastIndexOf(')') + 2).split(" ");
        return (Long.parseLong(fields[11]) + Long.parseLong(fields[12])) / TICKS_A_SECOND;
    }

    /** What is resident, in MiB. */
    long residentMiB() throws IOException {
        return Files.readAllLines(Path.of("/proc", String.valueOf(process.pid()), "status")).stream()
                .filter(line -> line.startsWith("VmRSS:"))
                .mapToLong(line -> Long.parseLong(line.replaceAll("\\D", "")) / 1024)
                .findFirst()
                .orElse(0);
    }

    @Override
    public void close() {
        process.destroy();
    }
}
