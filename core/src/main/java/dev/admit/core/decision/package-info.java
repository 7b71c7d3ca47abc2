/**
 * The record of one request: its checks in order, the verdict, the reason, and what would turn a refusal into a pass.
 */
package dev.admit.core.decision;
