package dev.admit.core.token;

import dev.admit.core.decision.CheckResult;
import java.time.Instant;

/** One thing that must hold of a verified token, on every request. */
public interface TokenCheck {
    CheckResult on(VerifiedToken token, Instant now);
}
