package dev.admit.server.pages;

import dev.admit.core.authorization.DeviceRequest;
import dev.admit.core.authorize.DeviceApproval;
import dev.admit.core.signin.SignedIn;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;

/** Where a person types what a device shows, and answers it (RFC 8628 §3.3). */
@Controller
class DevicePages {
    private final Visits visits;
    private final Render render;
    private final DeviceApproval approval;
    private final SecondFactorPages secondFactor;
    private final Flows flows;

    DevicePages(Visits visits, Render render, DeviceApproval approval, SecondFactorPages secondFactor, Flows flows) {
        this.visits = visits;
        this.render = render;
        this.approval = approval;
        this.secondFactor = secondFactor;
        this.flows = flows;
    }

    @GetMapping("/{issuer}/device")
    void ask(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response) throws IOException {
        visits.show(issuer, request, response, visit -> {
            Optional<String> typed = visit.form().one("user_code");
            if (typed.isEmpty()) code(visit, "", 200, Optional.empty());
            else go(visit, typed.get());
        });
    }

    /**
     * A picture of the address with the code in it, for the device to show beside the code (RFC 8628 §3.3.1). Any code
     * gives one, so that it tells nobody which are good.
     */
    @GetMapping("/{issuer}/device/picture")
    void picture(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.show(issuer, request, response, visit -> {
            String code = DeviceRequest.typed(visit.form().one("user_code").orElse(""));
            if (code.length() != 8) {
                render.message(
                        visit,
                        400,
                        "No picture of this",
                        "Give user_code, with the eight letters that the device got.");
                return;
            }
            SecondFactorPages.Picture it =
                    SecondFactorPages.picture(visit.issuer().url() + "/device?user_code=" + DeviceRequest.shown(code));
            byte[] svg = ("<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 %1$d %1$d\" "
                            + "shape-rendering=\"crispEdges\"><path fill=\"#fff\" d=\"M0 0h%1$dv%1$dH0z\"/><path "
                            + "d=\"%2$s\"/></svg>")
                    .formatted(it.size(), it.path())
                    .getBytes(java.nio.charset.StandardCharsets.UTF_8);
            response.setContentType("image/svg+xml");
            response.setHeader("X-Content-Type-Options", "nosniff");
            response.setHeader("Content-Security-Policy", "default-src 'none'");
            response.setContentLength(svg.length);
            response.getOutputStream().write(svg);
        });
    }

    @PostMapping("/{issuer}/device")
    void typed(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(
                issuer,
                request,
                response,
                visit -> go(visit, visit.form().one("user_code").orElse("")));
    }

    private void go(Visit visit, String typed) throws IOException {
        Optional<DeviceRequest> request =
                approval.find(typed, visit.browser().cookie().orElseThrow(), visit.issuer(), visit.decision());
        if (request.isEmpty()) {
            int status =
                    visit.decision().refusal().map(why -> why.reason().status()).orElse(400);
            visits.decided(visit, status);
            code(
                    visit,
                    typed.length() > 20 ? "" : typed,
                    status,
                    Optional.of(
                            status == 429
                                    ? "Too many codes that no device shows came from here. Wait a quarter of an hour."
                                    : "No device shows this code now. Check it, or begin again on the device."));
            return;
        }
        String flow = flows.sealed(
                visit, Flow.ofDevice(request.get().userCode(), visit.decision().at()));
        if (visit.person().isEmpty()) {
            Visits.redirect(visit, visit.path("sign-in?flow=" + flow));
            return;
        }
        SignedIn who = visit.person().get();
        Optional<DeviceApproval.Waiting> waiting =
                approval.waiting(request.get(), visit.issuer(), who, visit.decision());
        if (waiting.isEmpty())
            render.message(visit, 400, "This device cannot be approved", "Its client was switched off or removed.");
        else if (approval.needsSecondFactor(waiting.get(), visit.issuer(), who))
            secondFactor.ask(visit, flow, who, Optional.empty(), Optional.empty());
        else show(visit, flow, who, waiting.get());
    }

    private void show(Visit visit, String flow, SignedIn who, DeviceApproval.Waiting waiting) throws IOException {
        Map<String, Object> values = new LinkedHashMap<>();
        values.put("flow", flow);
        values.put("client", waiting.client().client());
        values.put("who", who.person());
        values.put("code", DeviceRequest.shown(waiting.request().userCode()));
        values.put(
                "fresh",
                waiting.rights().toApprove().stream()
                        .map(scope -> ApprovePage.line(visit, scope))
                        .toList());
        values.put(
                "before",
                waiting.rights().names().stream()
                        .map(scope -> ApprovePage.line(visit, scope))
                        .toList());
        values.put(
                "administrators",
                waiting.rights().forAdministrator().stream()
                        .map(scope -> ApprovePage.line(visit, scope))
                        .toList());
        values.put(
                "notTheirs",
                waiting.rights().notTheirs().stream()
                        .map(scope -> ApprovePage.line(visit, scope))
                        .toList());
        values.put(
                "anything",
                !waiting.rights().toApprove().isEmpty() || !waiting.rights().isEmpty());
        render.page(visit, "device-approve", values);
    }

    @PostMapping("/{issuer}/device/answer")
    void answered(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(issuer, request, response, visit -> {
            Optional<Flow> flow = flows.of(visit);
            Optional<DeviceRequest> found =
                    flow.flatMap(it -> approval.again(it.userCode(), visit.issuer(), visit.decision()));
            Optional<SignedIn> who = visit.person();
            Optional<DeviceApproval.Waiting> waiting = found.isEmpty() || who.isEmpty()
                    ? Optional.empty()
                    : approval.waiting(found.get(), visit.issuer(), who.get(), visit.decision());
            if (waiting.isEmpty() || approval.needsSecondFactor(waiting.get(), visit.issuer(), who.get())) {
                render.message(
                        visit,
                        400,
                        "This page is no longer good",
                        "The code expired, or was answered. Begin again on the device.");
                return;
            }
            boolean yes = visit.form().one("answer").filter("yes"::equals).isPresent();
            boolean settled = approval.answer(
                    waiting.get(), yes, visit.form().all("shown"), visit.issuer(), who.get(), visit.decision());
            visits.decided(visit, 200);
            render.message(
                    visit,
                    200,
                    !settled ? "It was answered already" : yes ? "The device goes on" : "Declined",
                    !settled
                            ? "Look at the device."
                            : yes ? "You can close this page, and look at the device." : "The device gets nothing.");
        });
    }

    private void code(Visit visit, String typed, int status, Optional<String> fault) throws IOException {
        Map<String, Object> values = new LinkedHashMap<>(Map.of("typed", typed));
        fault.ifPresent(it -> values.put("fault", it));
        render.page(visit, status, "device", values, Optional.empty());
    }
}
