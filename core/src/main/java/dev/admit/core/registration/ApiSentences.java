package dev.admit.core.registration;

import dev.admit.core.change.Fields;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Minting;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What is in force at an API, in sentences: the same ones on every surface, and while an API is being written. */
public final class ApiSentences {
    private ApiSentences() {}

    /** @param api as it is, or as it would be */
    public static List<String> of(Api api) {
        List<String> said = new ArrayList<>();
        said.add("Tokens for it have the audience %s.".formatted(api.audience()));
        said.add("They live %s and are %s."
                .formatted(
                        Fields.written(api.minting().lifetime()),
                        api.minting().format() == Minting.Format.JWT ? "JWTs" : "opaque"));
        Optional<String> upstream = api.upstream().map(Object::toString);
        said.add(
                upstream.isPresent()
                        ? "Its routes go to %s, where they name no other upstream.".formatted(upstream.get())
                        : "Each of its routes names its own upstream.");
        if (api.allByDefault())
            said.add("A token request that names no scope gets every scope that the client is approved for.");
        else if (!api.defaultScopes().isEmpty())
            said.add("A token request that names no scope gets %s."
                    .formatted(String.join(" and ", api.defaultScopes())));
        return List.copyOf(said);
    }
}
