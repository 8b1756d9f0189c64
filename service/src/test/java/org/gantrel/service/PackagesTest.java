package org.gantrel.service;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import jakarta.persistence.Entity;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The packages")
class PackagesTest {

    private static final JavaClasses SERVICE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            // what Spring works out at build time joins everything with everything
            .withImportOption(location -> !location.contains("__"))
            .importPackages("org.gantrel.service");

    @Test
    @DisplayName("have no cycles")
    void haveNoCycles() {
        slices().matching("org.gantrel.service.(*)..").should().beFreeOfCycles().check(SERVICE);
    }

    @Test
    @DisplayName("of features know nothing of the web layer above them")
    void pointDownwards() {
        noClasses()
                .that()
                .resideOutsideOfPackages("org.gantrel.service.web..", "org.gantrel.service")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("org.gantrel.service.web..")
                .check(SERVICE);
    }

    @Test
    @DisplayName("keep the records of runs and jobs to themselves: others get values")
    void keepTheirRecords() {
        classes()
                .that()
                .areAnnotatedWith(Entity.class)
                .and()
                .resideInAnyPackage(
                        "org.gantrel.service.run",
                        "org.gantrel.service.job",
                        "org.gantrel.service.journal",
                        "org.gantrel.service.schedule",
                        "org.gantrel.service.notification")
                .should()
                .notBePublic()
                .check(SERVICE);
    }
}
