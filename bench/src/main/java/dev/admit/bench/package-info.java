/** Measurements of the whole service, as ratios to a floor in the same run. */
@NullMarked
package dev.admit.bench;

import org.jspecify.annotations.NullMarked;
