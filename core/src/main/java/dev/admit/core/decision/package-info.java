/**
 * The record of one request: its checks in order, the verdict, the reason, and what would turn a refusal into a pass.
 */
@NullMarked
package dev.admit.core.decision;

import org.jspecify.annotations.NullMarked;
