/**
 * What people do (sign in, sign up, second factor, profile, password) and what administrators do to them. A password is
 * compared in the same time for an address that nobody has.
 */
@NullMarked
package dev.admit.core.signin;

import org.jspecify.annotations.NullMarked;
