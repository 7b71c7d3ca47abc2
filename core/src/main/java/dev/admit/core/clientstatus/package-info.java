/** Where a client stands: what it may, what it waits for and who must act, and which of its requests were refused. */
@NullMarked
package dev.admit.core.clientstatus;

import org.jspecify.annotations.NullMarked;
