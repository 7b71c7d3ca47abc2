/**
 * The use cases that add, change and remove issuers, APIs, scopes, roles, clients, keys and trusted issuers. Each reads
 * what is wanted, asks whether the actor may, and writes record and audit in one transaction.
 */
@NullMarked
package dev.admit.core.registration;

import org.jspecify.annotations.NullMarked;
