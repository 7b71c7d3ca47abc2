/** People who answer for an API or a client: what that lets them do, and how they are told. */
@NullMarked
package dev.admit.core.owner;

import org.jspecify.annotations.NullMarked;
