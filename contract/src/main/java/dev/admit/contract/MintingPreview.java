package dev.admit.contract;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * What a client would get for an API now.
 *
 * @param why where each value comes from, as sentences
 * @param claims what the token would say, or introspection of it
 * @param fault why there would be none; else null
 */
public record MintingPreview(
        String api,
        String audience,
        @Nullable String lifetime,
        @Nullable String format,
        List<String> why,
        Map<String, Object> claims,
        @Nullable String fault) {}
