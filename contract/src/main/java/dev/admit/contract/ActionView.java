package dev.admit.contract;

import java.util.List;
import java.util.Map;

/**
 * What would be done about a refusal, for programs.
 *
 * @param thing what it is done to: {@code client}
 * @param act {@code change}
 * @param on which one, and what is named beside it; a word in upper case stands for what the reader fills in
 * @param options what it is done with, by name
 */
public record ActionView(String thing, String act, List<String> on, Map<String, String> options) {}
