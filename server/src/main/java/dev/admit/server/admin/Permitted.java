package dev.admit.server.admin;

import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/** Says who may use an endpoint of the admin API. The service does not start with an endpoint that says nothing. */
@Target(ElementType.METHOD)
@Retention(RetentionPolicy.RUNTIME)
public @interface Permitted {
    /** The lowest admin role that may. */
    AdminRole value();

    /** Whose people may. */
    Permission.Of of() default Permission.Of.ISSUER;

    /** Which owners may as well. */
    Permission.OwnerOf owner() default Permission.OwnerOf.NOTHING;
}
