package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How an API is to stand in the catalogue; what is left out stays.
 *
 * @param readers who finds it: everybody, people who are signed in, the people who are named, or nobody
 * @param people the addresses of those who find it, where its readers are named
 * @param description what the API is for, in Markdown
 * @param gettingStarted how to begin, in Markdown; {{client_id}}, {{issuer}}, {{gateway}} and {{audience}} are filled
 *     in for the reader
 * @param changes what changed, the newest first
 */
public record PublicationWanted(
        @OneOf({"none", "public", "signed-in", "named"}) @Nullable
        String readers,

        @Nullable List<String> people,
        @Nullable String description,
        @JsonProperty("getting_started") @Nullable String gettingStarted,
        @Nullable List<ChangeNote> changes) {
    /** All as it is, but for who finds it. */
    public static PublicationWanted forReaders(@Nullable String readers) {
        return new PublicationWanted(readers, null, null, null, null);
    }
}
