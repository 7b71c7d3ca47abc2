package dev.admit.core.registry;

import java.time.Instant;

/** A caller, registered with one issuer. @param id the {@code client_id}: public, made by Admit */
public record Client(String id, String issuerId, String name, String title, ClientKind kind, ClientAuthMethod authMethod,
                     String owner, long version, Instant createdAt) {}
