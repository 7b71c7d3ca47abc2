/** The pages where people sign in and look after their account. They run no script. */
package dev.admit.server.pages;
