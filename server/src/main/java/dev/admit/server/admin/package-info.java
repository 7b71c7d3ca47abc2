/**
 * The admin API. Each endpoint says with {@link dev.admit.server.admin.Permitted} who may use it; one that says nothing
 * stops the start.
 */
@NullMarked
package dev.admit.server.admin;

import org.jspecify.annotations.NullMarked;
