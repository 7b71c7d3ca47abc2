package dev.admit.acceptance;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.dependencies.SlicesRuleDefinition;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/** Holds the arrows between the modules, and what each may know. */
@Tag("fast")
class ArchitectureTest {
    private static final JavaClasses ADMIT = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .withImportOption(place -> !place.contains("test-classes"))
            .importPackages("dev.admit");

    @Test
    void modulesUseOnlyWhatTheyMay() {
        layeredArchitecture()
                .consideringOnlyDependenciesInAnyPackage("dev.admit..")
                .layer("core")
                .definedBy("dev.admit.core..")
                .layer("contract")
                .definedBy("dev.admit.contract..")
                .layer("store")
                .definedBy("dev.admit.store..")
                .layer("gateway")
                .definedBy("dev.admit.gateway..")
                .layer("server")
                .definedBy("dev.admit.server..")
                .layer("cli")
                .definedBy("dev.admit.cli..")
                .layer("demo")
                .definedBy("dev.admit.demo..")
                .whereLayer("core")
                .mayOnlyAccessLayers("contract")
                .whereLayer("contract")
                .mayNotAccessAnyLayer()
                .whereLayer("store")
                .mayOnlyAccessLayers("core")
                .whereLayer("gateway")
                .mayOnlyAccessLayers("core")
                .whereLayer("cli")
                .mayOnlyAccessLayers("contract")
                .whereLayer("server")
                .mayOnlyAccessLayers("core", "store", "gateway", "contract")
                .whereLayer("demo")
                .mayOnlyAccessLayers("core", "store", "server", "cli", "contract")
                .check(ADMIT);
    }

    @Test
    void theCoreKnowsNoSpringNoHttpNoSql() {
        noClasses()
                .that()
                .resideInAPackage("dev.admit.core..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "org.springframework..",
                        "jakarta..",
                        "java.sql..",
                        "javax.sql..",
                        "org.eclipse.jetty..",
                        "java.net.http..",
                        "tools.jackson..",
                        "com.sun.net..")
                .check(ADMIT);
    }

    @Test
    void theCommandLineKnowsNoSpring() {
        noClasses()
                .that()
                .resideInAPackage("dev.admit.cli..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("org.springframework..", "org.eclipse.jetty..")
                .check(ADMIT);
    }

    @Test
    void theGatewayAsksNoDatabase() {
        noClasses()
                .that()
                .resideInAPackage("dev.admit.gateway..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("java.sql..", "dev.admit.store..")
                .check(ADMIT);
    }

    @Test
    void allSqlIsInTheStore() {
        noClasses()
                .that()
                .resideOutsideOfPackage("dev.admit.store..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("java.sql..")
                .check(ADMIT);
    }

    @Test
    void theCoreReadsTheClockThroughAConstructor() {
        noClasses()
                .that()
                .resideInAPackage("dev.admit.core..")
                .should()
                .callMethod(java.time.Instant.class, "now")
                .orShould()
                .callMethod(System.class, "currentTimeMillis")
                .check(ADMIT);
    }

    @Test
    void packagesOfTheCoreHaveNoCircles() {
        SlicesRuleDefinition.slices()
                .matching("dev.admit.core.(*)..")
                .should()
                .beFreeOfCycles()
                .check(ADMIT);
    }

    @Test
    void controllersDecideNothingOfTheirOwn() {
        classes()
                .that()
                .haveSimpleNameEndingWith("Endpoints")
                .should()
                .bePackagePrivate()
                .check(ADMIT);
    }

    /** The same by the sources: the compiler copies constants, so bytecode does not tell where they came from. */
    @Test
    void sourcesOfTheCoreHaveNoCirclesEither() throws IOException {
        Map<String, Set<String>> uses = new TreeMap<>();
        for (Path source : sources("core")) {
            Set<String> used = uses.computeIfAbsent(part(source), first -> new TreeSet<>());
            Matcher named = PART_OF_CORE.matcher(withoutComments(source));
            while (named.find()) if (!named.group(1).equals(part(source))) used.add(named.group(1));
        }
        assertThat(uses.keySet()).hasSizeGreaterThan(20);
        // What only uses what is settled is settled; what is left goes round.
        Set<String> settled = new TreeSet<>();
        boolean more = true;
        while (more) {
            Set<String> now = new TreeSet<>();
            uses.forEach((part, used) -> {
                if (settled.containsAll(used)) now.add(part);
            });
            more = settled.addAll(now);
        }
        Map<String, Set<String>> round = new TreeMap<>(uses);
        round.keySet().removeAll(settled);
        assertThat(round).isEmpty();
    }

    @Test
    void theCoreKnowsNoAddressOfTheAdminApi() throws IOException {
        for (Path source : sources("core"))
            assertThat(withoutComments(source)).as(source.toString()).doesNotContain("\"/admin/", "/admin/issuers");
    }

    @Test
    void whatMustNotBeGuessedIsDrawnInOnePlace() throws IOException {
        for (String module : List.of("core", "store", "gateway", "server"))
            for (Path source : sources(module))
                if (!source.endsWith("RandomBits.java") && !source.endsWith("CallGateway.java"))
                    assertThat(withoutComments(source)).as(source.toString()).doesNotContain("SecureRandom");
    }

    private static final Pattern PART_OF_CORE = Pattern.compile("\\bdev\\.admit\\.core\\.([a-z0-9]+)\\.");
    private static final Pattern COMMENT = Pattern.compile("(?s)/\\*.*?\\*/|(?m)^\\s*//.*$|(?m)^package .*$");

    private static List<Path> sources(String module) throws IOException {
        try (Stream<Path> files = Files.walk(root().resolve(module + "/src/main/java"))) {
            return files.filter(it -> it.toString().endsWith(".java")).sorted().toList();
        }
    }

    private static Path root() {
        Path here = Path.of("").toAbsolutePath();
        return Files.exists(here.resolve("core")) ? here : here.getParent();
    }

    /** The package right below {@code dev.admit.core}. */
    private static String part(Path source) {
        Path path = source.subpath(0, source.getNameCount() - 1);
        for (int i = 0; i < path.getNameCount(); i++)
            if (path.getName(i).toString().equals("core")
                    && path.getName(i - 1).toString().equals("admit"))
                return i + 1 < path.getNameCount() ? path.getName(i + 1).toString() : "";
        throw new IllegalStateException("no source of the core: " + source);
    }

    private static String withoutComments(Path source) throws IOException {
        return COMMENT.matcher(Files.readString(source)).replaceAll("");
    }
}
