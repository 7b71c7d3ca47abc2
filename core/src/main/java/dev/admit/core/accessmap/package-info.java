/** Who can call what: callers, approvals, scopes and routes, joined with what passed between them. */
@NullMarked
package dev.admit.core.accessmap;

import org.jspecify.annotations.NullMarked;
