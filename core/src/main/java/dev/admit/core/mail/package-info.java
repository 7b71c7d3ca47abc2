/** Mail to people: what is written, how often an address gets any, and the outbox where no mail server is set. */
@NullMarked
package dev.admit.core.mail;

import org.jspecify.annotations.NullMarked;
