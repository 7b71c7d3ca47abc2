package dev.admit.acceptance;

import java.io.IOException;
import java.io.InputStream;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** A line between a browser and a service that can be cut, and fixed. */
final class CutLine implements AutoCloseable {
    private final ServerSocket listening = new ServerSocket(0);
    private final Set<Socket> open = ConcurrentHashMap.newKeySet();
    private volatile boolean cut;

    /** @param to the service's port, requested when a person comes */
    CutLine(java.util.function.IntSupplier to) throws IOException {
        Thread.ofVirtual().start(() -> {
            while (!listening.isClosed()) {
                try {
                    Socket from = listening.accept();
                    if (cut) {
                        from.close();
                        continue;
                    }
                    Socket there = new Socket("127.0.0.1", to.getAsInt());
                    open.add(from);
                    open.add(there);
                    carry(from, there);
                    carry(there, from);
                } catch (IOException closed) {
                    // the next one, or the end
                }
            }
        });
    }

    private void carry(Socket from, Socket to) {
        Thread.ofVirtual().start(() -> {
            try (from;
                    to;
                    InputStream in = from.getInputStream()) {
                in.transferTo(to.getOutputStream());
            } catch (IOException ended) {
                // by either side, or by the cut
            }
        });
    }

    int port() {
        return listening.getLocalPort();
    }

    void cut() throws IOException {
        cut = true;
        for (Socket it : open) it.close();
        open.clear();
    }

    void fix() {
        cut = false;
    }

    @Override
    public void close() throws IOException {
        cut();
        listening.close();
    }
}
