/** Admin roles and the rights that an endpoint declares. It knows no URL. */
package dev.admit.core.access;
