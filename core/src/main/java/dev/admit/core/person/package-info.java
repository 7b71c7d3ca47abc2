/**
 * A person and what is kept of them: address, profile, credentials, sessions. The ports of these records are here; what
 * people do is in {@link dev.admit.core.signin}.
 */
@NullMarked
package dev.admit.core.person;

import org.jspecify.annotations.NullMarked;
