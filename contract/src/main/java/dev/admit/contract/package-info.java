/**
 * What the admin API says and hears, one record for each object and direction. The service and the command line share
 * it.
 */
@NullMarked
package dev.admit.contract;

import org.jspecify.annotations.NullMarked;
