/**
 * The decision about one request at the gateway, from path to verdict. It knows a request as plain values and no HTTP
 * server; trying a request that was never sent goes the same way.
 */
@NullMarked
package dev.admit.core.gate;

import org.jspecify.annotations.NullMarked;
