package dev.fiesta.report;

import static com.tngtech.archunit.library.Architectures.layeredArchitecture;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;

/** The rooms of a report: what it shows knows nothing of those who write it. */
@AnalyzeClasses(packages = "dev.fiesta.report", importOptions = ImportOption.DoNotIncludeTests.class)
class RoomsTest {
    @ArchTest
    static final ArchRule NO_CIRCLES =
            slices().matching("dev.fiesta.(**)").should().beFreeOfCycles();

    @ArchTest
    static final ArchRule FLOORS = layeredArchitecture()
            .consideringOnlyDependenciesInLayers()
            .layer("door")
            .definedBy("dev.fiesta.report")
            .layer("page")
            .definedBy("dev.fiesta.report.page")
            .layer("workbook")
            .definedBy("dev.fiesta.report.workbook")
            .layer("terminal")
            .definedBy("dev.fiesta.report.terminal")
            .layer("write")
            .definedBy("dev.fiesta.report.write")
            .layer("sheet")
            .definedBy("dev.fiesta.report.sheet")
            .layer("content")
            .definedBy("dev.fiesta.report.content")
            .layer("chart")
            .definedBy("dev.fiesta.report.chart")
            .layer("text")
            .definedBy("dev.fiesta.report.text")
            .whereLayer("door")
            .mayNotBeAccessedByAnyLayer()
            .whereLayer("page")
            .mayOnlyBeAccessedByLayers("door")
            .whereLayer("workbook")
            .mayOnlyBeAccessedByLayers("door")
            .whereLayer("terminal")
            .mayOnlyBeAccessedByLayers("door")
            .whereLayer("write")
            .mayOnlyBeAccessedByLayers("door")
            .whereLayer("sheet")
            .mayOnlyBeAccessedByLayers("workbook")
            .whereLayer("content")
            .mayOnlyBeAccessedByLayers("door", "page", "workbook", "terminal", "write")
            .whereLayer("chart")
            .mayOnlyBeAccessedByLayers("door", "page", "workbook", "terminal", "write", "content");
}
