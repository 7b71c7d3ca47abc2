/** People who answer for an API or a client: what that lets them do, and how they are told. */
package dev.admit.core.owner;
