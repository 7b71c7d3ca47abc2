package dev.admit.core.change;

/**
 * What is wrong with one field of a change that was asked for.
 *
 * @param pointer where the field stands in the request, as a JSON Pointer (RFC 6901): {@code /audience}
 * @param expected what would have been right, as a phrase
 * @param came what came instead, quoted and shortened, never a secret
 * @param mend what to do, as a sentence
 */
public record FieldFault(String pointer, String expected, String came, String mend) {}
