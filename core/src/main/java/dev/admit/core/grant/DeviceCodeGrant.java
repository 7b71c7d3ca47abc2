package dev.admit.core.grant;

import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.DeviceRequest;
import dev.admit.core.authorization.DeviceRequests;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.registry.SecretHash;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** A device asks whether the person has answered (RFC 8628 §3.4). */
final class DeviceCodeGrant implements Grant {
    static final String TYPE = "urn:ietf:params:oauth:grant-type:device_code";
    /** RFC 8628 §3.5: by so much the interval grows when a device asks too often. */
    private static final Duration SLOWER = Duration.ofSeconds(5);

    private static final Fix BEGIN_AGAIN = Fix.of("Begin again with another device code.");

    private final DeviceRequests devices;
    private final TokensForPerson tokens;

    DeviceCodeGrant(DeviceRequests devices, TokensForPerson tokens) {
        this.devices = devices;
        this.tokens = tokens;
    }

    @Override
    public String type() {
        return TYPE;
    }

    @Override
    public Result redeem(Redemption asked, Recorder decision) {
        DeviceRequest request = decision.take(find(asked));
        if (request == null) return new Result.Refused();
        if (decision.take(answered(request, asked.now())) == null) return new Result.Refused();
        AuthorizationGrant grant =
                tokens.grants.find(request.grantId().orElseThrow()).orElseThrow();
        TokensForPerson.Wanted wanted =
                new TokensForPerson.Wanted(TYPE, Optional.empty(), asked.form().all("resource"), true);
        return switch (tokens.issue(grant, wanted, () -> devices.claim(request.hash()), asked, decision)) {
            case TokensForPerson.Outcome.Issued(GrantOutcome.Issued issued) -> new Result.Issued(issued);
            case TokensForPerson.Outcome.Refused refused -> new Result.Refused();
            case TokensForPerson.Outcome.ClaimedBefore another -> {
                decision.take(used());
                yield new Result.Refused();
            }
        };
    }

    private Checked<DeviceRequest> find(Redemption asked) {
        Optional<String> text = asked.form().one("device_code");
        if (text.isEmpty())
            return refused(
                    Reason.MISSING_PARAMETER,
                    "device_code",
                    "none",
                    Fix.of("Send the device_code that the device authorization endpoint gave."));
        return devices.find(SecretHash.of(text.get()))
                .filter(it -> it.clientId().equals(asked.client().client().id()))
                .map(Checked::passed)
                .orElseGet(() -> refused(
                        Reason.DEVICE_CODE_UNUSABLE,
                        "a device_code that was given to this client",
                        "one that was not",
                        BEGIN_AGAIN));
    }

    /** Whether the person said yes; one who asks before that is noted, and told when to ask again. */
    private Checked<DeviceRequest> answered(DeviceRequest request, Instant now) {
        if (!now.isBefore(request.expiresAt()))
            return refused(
                    Reason.DEVICE_CODE_EXPIRED,
                    "a device_code that was answered in time",
                    "one that expired",
                    BEGIN_AGAIN);
        return switch (request.status()) {
            case WAITING -> waits(request, now);
            case DECLINED -> refused(Reason.PERSON_DECLINED, "the person's approval", "a no", BEGIN_AGAIN);
            case REDEEMED -> used();
            case APPROVED -> Checked.passed(request);
        };
    }

    private Checked<DeviceRequest> waits(DeviceRequest request, Instant now) {
        boolean tooSoon = request.polledAt()
                .filter(last -> now.isBefore(last.plus(request.interval())))
                .isPresent();
        Duration interval = tooSoon ? request.interval().plus(SLOWER) : request.interval();
        devices.polled(request.hash(), now, interval);
        return tooSoon
                ? refused(
                        Reason.ASKED_TOO_OFTEN,
                        "%d s between two questions"
                                .formatted(request.interval().toSeconds()),
                        "less",
                        Fix.of("Ask every %d s from now on.".formatted(interval.toSeconds())))
                : refused(
                        Reason.PERSON_HAS_NOT_ANSWERED,
                        "the person's answer",
                        "none yet",
                        Fix.of("Ask again in %d s.".formatted(interval.toSeconds())));
    }

    private static Checked<DeviceRequest> used() {
        return refused(Reason.DEVICE_CODE_UNUSABLE, "a device_code that is not used", "one that was", BEGIN_AGAIN);
    }

    private static Checked<DeviceRequest> refused(Reason reason, String expected, String received, Fix fix) {
        return Checked.refused("device-code", reason, expected, received, fix);
    }
}
