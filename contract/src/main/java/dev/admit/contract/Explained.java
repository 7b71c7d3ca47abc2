package dev.admit.contract;

import java.util.List;

/**
 * A decision in sentences.
 *
 * @param sentences what was decided, what was compared, how to fix it
 */
public record Explained(List<String> sentences, DecisionView decision) {}
