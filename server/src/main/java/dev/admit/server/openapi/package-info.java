/** Reads OpenAPI documents that come from outside, by the standard library, with nothing fetched and all bounded. */
@NullMarked
package dev.admit.server.openapi;

import org.jspecify.annotations.NullMarked;
