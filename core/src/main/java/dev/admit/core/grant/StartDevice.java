package dev.admit.core.grant;

import dev.admit.core.authorization.DeviceRequest;
import dev.admit.core.authorization.DeviceRequests;
import dev.admit.core.authorization.OneTimeSecret;
import dev.admit.core.authorize.GrantTypes;
import dev.admit.core.authorize.ReadScopes;
import dev.admit.core.change.RandomBits;
import dev.admit.core.clientauth.AuthenticateClient;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.tries.Strangers;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * A device without a browser begins: it gets a code for itself and a short one for a person to type (RFC 8628 §3.1).
 */
public final class StartDevice {
    private static final Duration LIFETIME = Duration.ofMinutes(15);
    private static final Duration INTERVAL = Duration.ofSeconds(5);

    private final AuthenticateClient authenticate;
    private final DeviceRequests devices;
    private final Strangers strangers;

    public StartDevice(AuthenticateClient authenticate, DeviceRequests devices, Strangers strangers) {
        this.authenticate = authenticate;
        this.devices = devices;
        this.strangers = strangers;
    }

    public sealed interface Outcome {
        /** @param members of the answer (RFC 8628 §3.2) */
        record Started(Map<String, Object> members) implements Outcome {
            @Override
            public String toString() {
                return "Started[hidden]";
            }
        }

        record Refused(Refusal refusal) implements Outcome {}
    }

    public Outcome start(FormRequest request, CompiledIssuer issuer, Recorder decision) {
        Optional<FormRequest.Read> read = request.read(decision);
        if (read.isEmpty()) return refused(decision);
        authenticate.prepare(read.get().presented(), decision);
        Optional<KnownClient> client = authenticate.authenticate(read.get().presented(), issuer.issuer(), decision);
        if (client.isEmpty()) return refused(decision);
        if (!client.get().client().mayUse(DeviceCodeGrant.TYPE)
                || !issuer.issuer().settings().allows(DeviceCodeGrant.TYPE)) {
            decision.add(CheckResult.refused(
                    "grant",
                    Reason.GRANT_NOT_ALLOWED,
                    "a client that may use the device grant",
                    "%s of kind %s"
                            .formatted(
                                    client.get().client().name(),
                                    client.get().client().kind()),
                    GrantTypes.fix(issuer.issuer(), client.get().client(), DeviceCodeGrant.TYPE)));
            return refused(decision);
        }
        Optional<ReadScopes.Asked> asked = new ReadScopes(issuer, client.get(), decision.at(), decision)
                .read(read.get().form().one("scope"), read.get().form().all("resource"));
        if (asked.isEmpty()) return refused(decision);
        // Nobody has proved anything yet, and each of these is a record.
        if (!strangers.mayBegin(decision.from())) {
            decision.add(CheckResult.refused(
                    "device-request",
                    Reason.TOO_MANY_DEVICE_REQUESTS,
                    "an address that begins few device requests a minute",
                    "one that began many",
                    Fix.of("Wait a minute, and begin again.")));
            return refused(decision);
        }
        String deviceCode = OneTimeSecret.deviceCode();
        String userCode = userCode();
        devices.insert(new DeviceRequest(
                SecretHash.of(deviceCode),
                userCode,
                issuer.issuer().id(),
                client.get().client().id(),
                asked.get().scopes(),
                asked.get().resources(),
                DeviceRequest.Status.WAITING,
                Optional.empty(),
                Optional.empty(),
                INTERVAL,
                decision.at().plus(LIFETIME)));
        decision.done("gave a device code for " + String.join(" ", asked.get().scopes()));
        Map<String, Object> members = new LinkedHashMap<>();
        members.put("device_code", deviceCode);
        members.put("user_code", DeviceRequest.shown(userCode));
        members.put("verification_uri", issuer.url() + "/device");
        members.put("verification_uri_complete", issuer.url() + "/device?user_code=" + DeviceRequest.shown(userCode));
        members.put("expires_in", LIFETIME.toSeconds());
        members.put("interval", INTERVAL.toSeconds());
        return new Outcome.Started(members);
    }

    /** 20 letters, 8 places: 34 bits, which a few tries in 15 minutes do not find (RFC 8628 §6.1). */
    private static String userCode() {
        return RandomBits.letters(DeviceRequest.LETTERS, 8);
    }

    private static Outcome refused(Recorder decision) {
        return new Outcome.Refused(decision.refusal().orElseThrow());
    }
}
