package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What the documents say shows something is there. */
@Tag("fast")
class DocsTest {
    private static final Pattern TEST = Pattern.compile("`([A-Z]\\w*Test)`");

    @ParameterizedTest
    @ValueSource(strings = {"docs/security.md", "docs/asvs.md"})
    void eachTestThatADocumentNamesIsThere(String document) throws IOException {
        Set<String> named = new TreeSet<>(
                TEST.matcher(Files.readString(Running.projectRoot().resolve(document)))
                        .results()
                        .map(it -> it.group(1))
                        .toList());
        assertThat(named).hasSizeGreaterThan(20);
        assertThat(tests()).containsAll(named);
    }

    private static Set<String> tests() throws IOException {
        Path root = Running.projectRoot();
        Set<String> all = new TreeSet<>();
        for (String module : new String[] {"core", "store", "gateway", "server", "cli", "acceptance"}) {
            try (Stream<Path> files = Files.walk(root.resolve(module).resolve("src/test/java"))) {
                all.addAll(files.map(it -> it.getFileName().toString())
                        .filter(it -> it.endsWith("Test.java"))
                        .map(it -> it.replace(".java", ""))
                        .collect(Collectors.toSet()));
            }
        }
        return all;
    }
}
