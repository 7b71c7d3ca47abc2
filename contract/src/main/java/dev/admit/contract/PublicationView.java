package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How an API stands in the catalogue.
 *
 * @param readers who finds it: everybody, people who are signed in, the people who are named, or nobody
 * @param people the addresses of those who find it, where its readers are named
 * @param description what the API is for, in Markdown
 * @param gettingStarted how to begin, in Markdown
 * @param changes what changed, the newest first
 * @param page where it is read; its owner finds it there before it is published too
 * @param changedAt null when nothing was ever said
 * @param sentences what is in force, in words
 */
public record PublicationView(
        String api,
        @OneOf({"none", "public", "signed-in", "named"}) String readers,
        List<String> people,
        String description,
        @JsonProperty("getting_started") String gettingStarted,
        List<ChangeNote> changes,
        String page,
        @JsonProperty("changed_at") @Nullable Instant changedAt,
        List<String> sentences) {}
