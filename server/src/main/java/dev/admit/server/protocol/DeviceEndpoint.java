package dev.admit.server.protocol;

import dev.admit.core.decision.Refusal;
import dev.admit.core.grant.StartDevice;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Where a device without a browser begins (RFC 8628 §3.1). */
@Component
class DeviceEndpoint implements FormAddresses.Endpoints {
    private final StartDevice start;

    DeviceEndpoint(StartDevice start) {
        this.start = start;
    }

    @Override
    public Map<String, Forms.Deciding> byLastSegment() {
        return Map.of("device_authorization", (form, found, decision) -> switch (start.start(form, found, decision)) {
            case StartDevice.Outcome.Started(Map<String, Object> members) -> Forms.Answer.of(members);
            case StartDevice.Outcome.Refused(Refusal refusal) -> Forms.Answer.refused(refusal, decision.id());
        });
    }
}
