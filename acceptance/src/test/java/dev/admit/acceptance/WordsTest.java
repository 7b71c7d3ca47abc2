package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import dev.admit.contract.OneOf;
import java.lang.reflect.RecordComponent;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/**
 * The words of a member are those of the core. The console believes no answer with another word, so one that the core
 * learns and the record does not would leave a page empty.
 */
@Tag("fast")
class WordsTest {
    /** Where the core has kinds of things, and no enumeration of their names. */
    private static final List<Set<String>> KINDS = List.of(
            Set.of("all-of", "any-of"),
            Set.of("header", "body"),
            Set.of("header", "login", "token"),
            Set.of("passed", "refused", "skipped"));

    @Test
    void everyWordOfARecordIsOneOfTheCoreAndNoneIsMissing() throws Exception {
        var classes = new ClassFileImporter().importPackages("dev.admit.core", "dev.admit.contract");
        Set<Set<String>> known = new HashSet<>(KINDS);
        for (JavaClass one : classes)
            if (one.isEnum())
                known.add(Arrays.stream(one.reflect().getEnumConstants())
                        .map(Object::toString)
                        .collect(Collectors.toSet()));
        TreeMap<String, Set<String>> strange = new TreeMap<>();
        int looked = 0;
        for (JavaClass one : classes) {
            if (!one.isRecord()) continue;
            for (RecordComponent member : one.reflect().getRecordComponents()) {
                OneOf words = member.getAnnotation(OneOf.class);
                if (words == null) continue;
                looked++;
                if (!known.contains(Set.of(words.value())))
                    strange.put(one.getName() + "." + member, Set.of(words.value()));
            }
        }
        assertThat(strange).isEmpty();
        assertThat(looked).isGreaterThan(40);
    }
}
