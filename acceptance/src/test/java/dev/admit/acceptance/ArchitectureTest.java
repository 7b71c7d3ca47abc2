package dev.admit.acceptance;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.dependencies.SlicesRuleDefinition;
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
}
