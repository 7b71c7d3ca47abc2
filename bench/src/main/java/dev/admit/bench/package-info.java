/** Measurements of the whole service, as ratios to a floor in the same run. */
package dev.admit.bench;
