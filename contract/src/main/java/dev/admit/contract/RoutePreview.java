package dev.admit.contract;

import java.util.List;

/**
 * What a route would mean that is not saved.
 *
 * @param sentences what would be in force there, in words
 */
public record RoutePreview(List<String> sentences) {}
