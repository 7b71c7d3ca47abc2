package dev.admit.contract;

import java.util.List;

/**
 * What a thing would mean that is not saved.
 *
 * @param sentences what would be in force, in words
 * @param missing what it would still lack to work, as sentences; empty when nothing
 */
public record Preview(List<String> sentences, List<String> missing) {}
