package dev.admit.core.catalogue;

import dev.admit.core.registry.Api;
import java.util.List;

/** How an API stands in the catalogue, in sentences: the same ones on every surface. */
public final class PublicationSentences {
    private PublicationSentences() {}

    public static List<String> of(Api api, Publication it) {
        String who =
                switch (it.readers()) {
                    case NONE -> "Only its owners and people with an admin role";
                    case PUBLIC -> "Everybody";
                    case SIGNED_IN -> "Every person of the issuer who is signed in";
                    case NAMED ->
                        it.people().size() == 1
                                ? "One named person"
                                : it.people().size() + " named people";
                };
        String verb = it.readers() == Readers.NONE
                        || it.readers() == Readers.NAMED && it.people().size() > 1
                ? "find"
                : "finds";
        return List.of(
                "%s %s %s in the catalogue.".formatted(who, verb, api.name()),
                "Its scopes that are not listed, and operations that need them, are left out there.");
    }
}
