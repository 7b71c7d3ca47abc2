package dev.admit.core.owner;

import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;

/** What a person answers for. */
public record Owned(Kind kind, String id, String name) {
    public enum Kind {
        API("API"),
        CLIENT("client");

        private final String word;

        Kind(String word) {
            this.word = word;
        }

        @Override
        public String toString() {
            return word;
        }
    }

    public static Owned of(Api api) {
        return new Owned(Kind.API, api.id(), api.name());
    }

    public static Owned of(Client client) {
        return new Owned(Kind.CLIENT, client.id(), client.name());
    }

    boolean isNamed(Kind kind, String nameOrId) {
        return this.kind == kind && (id.equals(nameOrId) || name.equals(nameOrId));
    }

    @Override
    public String toString() {
        return "the %s %s".formatted(kind, name);
    }
}
