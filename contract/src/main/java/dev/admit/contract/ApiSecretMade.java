package dev.admit.contract;

import java.util.List;

/** A secret of an API just made. */
public record ApiSecretMade(ApiView now, SecretOnce secret, List<String> notes) {}
