package dev.admit.contract;

import java.lang.annotation.Documented;
import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/**
 * The words that a text may be, or each text of a list. From here they stand in the description of the admin API, in
 * the schema of a setup file and in the console's types.
 */
@Documented
@Retention(RetentionPolicy.RUNTIME)
@Target(ElementType.RECORD_COMPONENT)
public @interface OneOf {
    String[] value();
}
