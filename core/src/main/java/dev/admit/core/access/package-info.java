/** Admin roles and the rights that an endpoint declares. It knows no URL. */
@NullMarked
package dev.admit.core.access;

import org.jspecify.annotations.NullMarked;
