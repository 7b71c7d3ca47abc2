package dev.admit.bench;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.IntFunction;

/** Closed-loop load on loopback: some connections, each sending its next request when the last is answered. */
final class Load {
    private Load() {}

    /**
     * @param requests how many were answered
     * @param seconds how long it took
     */
    record Result(long requests, double seconds) {
        double perSecond() {
            return requests / seconds;
        }
    }

    /**
     * A request as bytes.
     *
     * @param more header lines, each ended
     */
    static byte[] request(String method, String path, String more, String body) {
        return ("%s %s HTTP/1.1\r\nHost: 127.0.0.1\r\n%sContent-Length: %d\r\n\r\n%s"
                        .formatted(method, path, more, body.length(), body))
                .getBytes(StandardCharsets.ISO_8859_1);
    }

    /**
     * Sends for a time, or until the requests expire.
     *
     * @param requests the n-th request of all; null ends
     * @param status what every answer must be
     */
    static Result run(int port, int connections, double seconds, int status, IntFunction<byte[]> requests)
            throws InterruptedException {
        AtomicLong sent = new AtomicLong();
        AtomicLong answered = new AtomicLong();
        List<String> faults = new ArrayList<>();
        long start = System.nanoTime();
        long end = start + (long) (seconds * 1e9);
        List<Thread> threads = new ArrayList<>();
        for (int c = 0; c < connections; c++) {
            threads.add(Thread.ofPlatform().start(() -> {
                try (Socket socket = new Socket("127.0.0.1", port)) {
                    socket.setTcpNoDelay(true);
                    InputStream in = new BufferedInputStream(socket.getInputStream(), 16 * 1024);
                    while (System.nanoTime() < end) {
                        byte[] request = requests.apply((int) sent.getAndIncrement());
                        if (request == null) return;
                        socket.getOutputStream().write(request);
                        int received = readAnswer(in);
                        if (received != status) throw new IOException("answered " + received + " instead of " + status);
                        answered.incrementAndGet();
                    }
                } catch (IOException fault) {
                    synchronized (faults) {
                        faults.add(fault.getMessage());
                    }
                }
            }));
        }
        for (Thread thread : threads) thread.join();
        if (!faults.isEmpty()) throw new IllegalStateException("the load met: " + faults);
        return new Result(answered.get(), (System.nanoTime() - start) / 1e9);
    }

    /**
     * Reads one answer to its end.
     *
     * @return its status
     */
    private static int readAnswer(InputStream in) throws IOException {
        String statusLine = readLine(in);
        int length = 0;
        boolean chunked = false;
        for (String line = readLine(in); !line.isEmpty(); line = readLine(in)) {
            if (line.regionMatches(true, 0, "content-length:", 0, 15))
                length = Integer.parseInt(line.substring(15).strip());
            if (line.regionMatches(true, 0, "transfer-encoding:", 0, 18)) chunked = true;
        }
        if (chunked) {
            for (int size = Integer.parseInt(readLine(in), 16); size > 0; size = Integer.parseInt(readLine(in), 16)) {
                in.skipNBytes(size + 2L);
            }
            readLine(in);
        } else {
            in.skipNBytes(length);
        }
        return Integer.parseInt(statusLine.substring(9, 12));
    }

    private static String readLine(InputStream in) throws IOException {
        StringBuilder line = new StringBuilder(64);
        for (int c = in.read(); c != '\n'; c = in.read()) {
            if (c < 0) throw new IOException("the connection ended");
            if (c != '\r') line.append((char) c);
        }
        return line.toString();
    }
}
