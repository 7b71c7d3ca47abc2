/** The records in SQLite through plain JDBC: one class for each table, one writer, numbered migrations. */
package dev.admit.store;
