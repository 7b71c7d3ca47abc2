/** Mail to people: what is written, how often an address gets any, and the outbox where no mail server is set. */
package dev.admit.core.mail;
