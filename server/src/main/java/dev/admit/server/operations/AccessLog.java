package dev.admit.server.operations;

import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.LongAdder;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * One line of JSON for each request, of whatever endpoint: who, what, the verdict and how long it took; never a token,
 * a secret or a query. Lines are written by another thread. A file that was moved away is begun anew, so that the one
 * who turns logs over needs no signal.
 */
public final class AccessLog implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(AccessLog.class);
    private static final int MOST_WAITING = 100_000;
    private static final JsonMapper JSON = new JsonMapper();

    private final Path file;
    private final Queue<String> waiting = new ConcurrentLinkedQueue<>();
    private final AtomicInteger size = new AtomicInteger();
    private final LongAdder lost = new LongAdder();
    private BufferedWriter writer;

    /** @throws IOException when it cannot be written */
    public AccessLog(Path file) throws IOException {
        this.file = file;
        open();
    }

    private void open() throws IOException {
        writer = Files.newBufferedWriter(
                file, StandardCharsets.UTF_8, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
    }

    /** @param answered the HTTP status that was sent */
    public void saw(Recorder builder, int answered) {
        if (size.get() >= MOST_WAITING) {
            lost.increment();
            return;
        }
        Decision it = builder.answered(answered);
        Decision.About about = it.about();
        ObjectNode line = JSON.createObjectNode();
        line.put("time", it.at().toString())
                .put("decision", it.id())
                .put("endpoint", it.endpoint().toString())
                .put("from", about.from())
                .put("method", about.method())
                .put("path", about.path())
                .put("status", answered)
                .put("ms", builder.elapsed() / 1_000_000.0)
                .put("verdict", it.verdict().toString());
        putSome(
                line,
                "reason",
                it.refusal().map(Refusal::reason).map(Object::toString).orElse(""));
        putSome(line, "issuer", about.issuer());
        putSome(line, "client", about.clientId());
        putSome(line, "subject", about.subject());
        putSome(line, "api", about.api());
        putSome(line, "route", about.route());
        putSome(line, "scopes", about.scopes());
        size.incrementAndGet();
        waiting.add(line.toString());
    }

    private static void putSome(ObjectNode line, String name, String value) {
        if (!value.isEmpty()) line.put(name, value);
    }

    /** Writes what waits. A disk that is full stops no request: lines are lost, and their number is told. */
    public synchronized void flush() {
        try {
            if (!Files.exists(file)) {
                writer.close();
                open();
            }
            for (String line = waiting.poll(); line != null; line = waiting.poll()) {
                size.decrementAndGet();
                writer.write(line);
                writer.write('\n');
            }
            long gone = lost.sumThenReset();
            if (gone > 0) writer.write("{\"lost_lines\":%d}\n".formatted(gone));
            writer.flush();
        } catch (IOException fault) {
            LOG.error("the access log {} cannot be written", file, fault);
        }
    }

    @Override
    public synchronized void close() throws IOException {
        flush();
        writer.close();
    }
}
