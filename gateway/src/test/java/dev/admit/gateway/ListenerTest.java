package dev.admit.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.configuration.Configuration;
import dev.admit.core.decision.Journal;
import dev.admit.core.gate.DescribeResource;
import dev.admit.core.gate.Gate;
import dev.admit.core.gate.GateOutcome;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Clock;
import java.time.Duration;
import java.util.concurrent.CompletableFuture;
import java.util.function.Supplier;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** An {@code Error} in one request ends that request, and no thread that others need. */
class ListenerTest {
    private static final int MORE_THAN_THERE_ARE_THREADS = 100;
    private final Gate gate = mock(Gate.class);
    private Gateway gateway;

    @BeforeEach
    void start() throws Exception {
        Supplier<Configuration> none = () -> null;
        gateway = new Gateway(
                GatewaySettings.onLoopback(0),
                gate,
                mock(Journal.class),
                mock(DescribeResource.class),
                mock(SignInAtGate.class),
                none,
                Clock.systemUTC());
        gateway.start();
    }

    @AfterEach
    void stop() throws Exception {
        gateway.close();
    }

    private int status() throws Exception {
        HttpRequest request = HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + gateway.port() + "/x"))
                .timeout(Duration.ofSeconds(5))
                .build();
        return HttpClient.newHttpClient()
                .send(request, HttpResponse.BodyHandlers.discarding())
                .statusCode();
    }

    @Test
    void anErrorWhileDecidingIsToldAndTheNextRequestIsServed() throws Exception {
        when(gate.decide(any(), any())).thenThrow(new StackOverflowError("of a test"));
        for (int i = 0; i < MORE_THAN_THERE_ARE_THREADS; i++)
            assertThat(status()).isEqualTo(500);
    }

    @Test
    void anErrorAfterWaitingForAKeyIsToldToo() throws Exception {
        CompletableFuture<Void> key = new CompletableFuture<>();
        when(gate.decide(any(), any()))
                .thenReturn(new GateOutcome.Waits(key))
                .thenThrow(new OutOfMemoryError("of a test"));
        CompletableFuture.delayedExecutor(200, java.util.concurrent.TimeUnit.MILLISECONDS)
                .execute(() -> key.complete(null));
        assertThat(status()).isEqualTo(500);
        assertThat(status()).isEqualTo(500);
    }
}
