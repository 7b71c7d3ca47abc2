package dev.admit.core.change;

/**
 * What is wrong with one field of a change that was requested.
 *
 * @param pointer where the field stands in the request, as a JSON Pointer (RFC 6901): {@code /audience}
 * @param expected what would have been right, as a phrase
 * @param received what came instead, quoted and shortened, never a secret
 * @param fix what to do, as a sentence
 */
public record FieldFault(String pointer, String expected, String received, String fix) {}
