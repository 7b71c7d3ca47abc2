package dev.admit.core.signin;

import dev.admit.core.person.Person;

/** A person who is signed in, and by which sign-in. */
public record SignedIn(Session session, Person person) {}
