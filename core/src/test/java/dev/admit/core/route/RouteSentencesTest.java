package dev.admit.core.route;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.contract.FixedResponse;
import dev.admit.contract.RouteLimits;
import dev.admit.contract.RouteTimeouts;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.RouteWho;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Each thing that a route can ask or do has its sentence. */
class RouteSentencesTest {
    private static final List<String> THREE = List.of("tides.read", "berths.read", "berths.book");

    private static RouteWanted with(List<String> scopes, String mode, Boolean open) {
        return new RouteWanted(
                List.of("GET"),
                "/tides/**",
                "tides",
                scopes,
                mode,
                open,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null);
    }

    private static List<String> of(RouteWho who, RouteTransform transform, RouteTimeouts timeouts, RouteLimits limits) {
        return RouteSentences.of(new RouteWanted(
                List.of(),
                "/tides/**",
                "tides",
                List.of("tides.read"),
                "all-of",
                null,
                null,
                "http://127.0.0.1:9410",
                null,
                true,
                who,
                transform,
                timeouts,
                limits));
    }

    @Test
    void itSaysWhoMayCallAndWhereItGoes() {
        assertThat(RouteSentences.of(with(List.of("tides.read"), "all-of", null)))
                .containsExactly(
                        "A token for tides with tides.read may call GET /tides/**.",
                        "What passes goes to the API's upstream.");
        assertThat(RouteSentences.of(with(THREE, "any-of", null)).getFirst())
                .contains("with any of tides.read, berths.read or berths.book may");
        assertThat(RouteSentences.of(with(THREE, "all-of", null)).getFirst())
                .contains("with tides.read, berths.read and berths.book may");
        assertThat(RouteSentences.of(with(null, null, true)).getFirst())
                .isEqualTo("Anyone may call GET /tides/**, without a token.");
        assertThat(RouteSentences.of(with(List.of(), null, null)).getFirst())
                .isEqualTo("Any token for tides may call GET /tides/**, whatever its scope.");
    }

    @Test
    void itHasOneForEachThingThatIsAskedOfTheCaller() {
        assertThat(of(
                        new RouteWho(
                                List.of("harbour", "coastguard"),
                                "people",
                                List.of("berth-desk"),
                                List.of("pilot", "clerk"),
                                "10m",
                                "two-factor",
                                "path.berth == claims.berth",
                                "berth-desk",
                                true),
                        null,
                        null,
                        null))
                .containsExactly(
                        "A token for tides with tides.read may call /tides/**.",
                        "Only on a person's behalf.",
                        "Only the client berth-desk.",
                        "Only people with the role pilot or clerk.",
                        "Only after a sign-in within the last 10m.",
                        "Only after a sign-in with acr two-factor.",
                        "Only clients that are subscribed to a plan that covers the request.",
                        "Only when this holds: path.berth == claims.berth",
                        "Tokens of harbour and coastguard are taken.",
                        "Browsers without a token are signed in as berth-desk.",
                        "Pages of browser clients may call it.",
                        "What passes goes to http://127.0.0.1:9410.");
        assertThat(of(new RouteWho(null, "clients", null, null, null, null, null, null, null), null, null, null))
                .contains("Only clients on their own.");
    }

    @Test
    void itHasOneForEachThingThatIsDoneAndEachLimit() {
        assertThat(of(
                        null,
                        new RouteTransform(
                                "/v2/**",
                                Map.of("X-Gauge", "{{path.gauge}}"),
                                Map.of("A", "B"),
                                List.of("Cookie"),
                                Map.of("Cache-Control", "no-store"),
                                List.of("Server"),
                                "coastguard-warnings",
                                Map.of("any", new RouteTransform.OwnText("text/plain", "no")),
                                "each-request"),
                        new RouteTimeouts("1s", "2s", "3s"),
                        new RouteLimits(
                                List.of("60 per 1m by client"), List.of("100000 per month by client"), 4, 1000L, 2000)))
                .containsSubsequence(
                        "At most 60 per 1m by client.",
                        "At most 100000 per month by client.",
                        "At most 4 concurrent requests.",
                        "At most 2000 bytes of headers.",
                        "At most 1000 bytes of body.",
                        "What passes goes to http://127.0.0.1:9410, as /v2/**.",
                        "The request's A is passed on as B.",
                        "The request gets X-Gauge: {{path.gauge}}",
                        "The request loses Cookie.",
                        "The response gets Cache-Control: no-store",
                        "The response loses Server.",
                        "The gateway presents coastguard-warnings to the upstream.",
                        "Refused for any reason: says no",
                        "The upstream gets a gateway proof bound to each request.",
                        "A connection to the upstream may take 1s.",
                        "The upstream may send nothing for 2s.",
                        "The exchange may take 3s.");
    }

    @Test
    void aResponseOfTheGatewaysOwnIsSaidInPlaceOfTheUpstream() {
        assertThat(RouteSentences.of(new RouteWanted(
                        List.of(),
                        "/closed",
                        null,
                        null,
                        null,
                        true,
                        null,
                        null,
                        new FixedResponse(null, null, "closed"),
                        null,
                        null,
                        null,
                        null,
                        null)))
                .containsExactly(
                        "Anyone may call /closed, without a token.", "The gateway responds by itself, with 200.");
    }
}
