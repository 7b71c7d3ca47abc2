package dev.admit.contract;

import java.util.List;

/** A client just registered, with its first secret. */
public record ClientMade(ClientView now, SecretOnce secret, List<String> notes) {}
