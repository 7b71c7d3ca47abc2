/**
 * The catalogue: which APIs are published and for whom, what is said of each, and its documentation as a developer
 * reads it. Everything shown comes from the routes and scopes in force.
 */
@NullMarked
package dev.admit.core.catalogue;

import org.jspecify.annotations.NullMarked;
