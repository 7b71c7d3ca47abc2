package dev.admit.contract;

import java.util.List;

/** A secret just made, and its client. */
public record SecretMade(ClientView now, SecretOnce secret, List<String> notes) {}
