/** The records in SQLite through plain JDBC: one class for each table, one writer, numbered migrations. */
@NullMarked
package dev.admit.store;

import org.jspecify.annotations.NullMarked;
