/** Who can call what: callers, approvals, scopes and routes, joined with what passed between them. */
package dev.admit.core.accessmap;
