/**
 * JSON Schema made from the records of the contract: for the description of the admin API and for setup files. A
 * member's name, type, nullability, words and sentence are read off the record, so they are written nowhere else.
 */
@NullMarked
package dev.admit.server.schema;

import org.jspecify.annotations.NullMarked;
