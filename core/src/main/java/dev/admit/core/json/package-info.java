/**
 * Reads JSON strictly: one value, no member twice, bounded in size and depth. Everything that comes from outside as
 * JSON is read here.
 */
@NullMarked
package dev.admit.core.json;

import org.jspecify.annotations.NullMarked;
