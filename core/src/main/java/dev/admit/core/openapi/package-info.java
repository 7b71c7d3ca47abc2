/**
 * An API's own description as an OpenAPI document (3.0 or 3.1): what it promises, which routes that asks for, which of
 * it the gateway lets through, and how callers see it. How a document is read is a port.
 */
@NullMarked
package dev.admit.core.openapi;

import org.jspecify.annotations.NullMarked;
