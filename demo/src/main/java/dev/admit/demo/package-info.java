/** Saltmarsh Harbour: the demo data, and small stand-ins for upstreams, another issuer and a mail server. */
@NullMarked
package dev.admit.demo;

import org.jspecify.annotations.NullMarked;
