package dev.admit.contract;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** A client just registered, with its first secret. */
public record ClientMade(ClientView now, @Nullable SecretOnce secret, List<String> notes) {}
