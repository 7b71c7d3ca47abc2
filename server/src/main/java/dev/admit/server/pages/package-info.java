/** The pages where people sign in and look after their account. They run no script. */
@NullMarked
package dev.admit.server.pages;

import org.jspecify.annotations.NullMarked;
