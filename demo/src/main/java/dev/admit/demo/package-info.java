/** Saltmarsh Harbour: the demo data, and small stand-ins for upstreams, another issuer and a mail server. */
package dev.admit.demo;
