package dev.admit.core.setup;

import dev.admit.core.change.Actor;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.registry.Issuer;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Loads who answers for an API or a client. */
record LoadOwners(LoadSetup.UseCases use, LoadSetup.Records records, SetupSteps steps, Actor by) {
    void load(Issuer issuer, String at, Owned owned, @Nullable List<String> addresses) {
        if (addresses == null) return;
        List<String> before =
                records.owners().of(owned).stream().map(Owner::email).toList();
        steps.settle(at, use.owners().set(issuer, owned, addresses, "/owners", by))
                .map(all -> all.stream().map(Owner::email).toList())
                .filter(after -> !after.equals(before))
                .ifPresent(after -> steps.step(
                        "owners of " + owned, Optional.of(Map.of("owners", before)), Map.of("owners", after)));
    }
}
