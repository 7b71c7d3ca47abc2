/**
 * How the tokens of an API are made: lifetime, format and extra claims, with their exceptions. The strictest value
 * wins, so that order never matters.
 */
@NullMarked
package dev.admit.core.minting;

import org.jspecify.annotations.NullMarked;
