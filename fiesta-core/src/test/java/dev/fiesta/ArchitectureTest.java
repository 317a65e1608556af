package dev.fiesta;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;

/** The floors of the core: imports point down, packages form no circle, nothing here talks to a person. */
@AnalyzeClasses(packages = "dev.fiesta", importOptions = ImportOption.DoNotIncludeTests.class)
class ArchitectureTest {
    @ArchTest
    static final ArchRule NO_CIRCLES =
            slices().matching("dev.fiesta.(**)").should().beFreeOfCycles();

    @ArchTest
    static final ArchRule FLOORS = layeredArchitecture()
            .consideringOnlyDependenciesInLayers()
            .layer("door")
            .definedBy("dev.fiesta")
            .layer("brief")
            .definedBy("dev.fiesta.brief")
            .layer("trace")
            .definedBy("dev.fiesta.trace")
            .layer("survey")
            .definedBy("dev.fiesta.survey")
            .layer("editing")
            .definedBy("dev.fiesta.editing")
            .layer("engine")
            .definedBy("dev.fiesta.engine")
            .layer("member")
            .definedBy("dev.fiesta.member")
            .layer("task")
            .definedBy("dev.fiesta.task")
            .layer("crew")
            .definedBy("dev.fiesta.crew")
            .layer("stretch")
            .definedBy("dev.fiesta.stretch")
            .layer("total")
            .definedBy("dev.fiesta.total")
            .layer("operate")
            .definedBy("dev.fiesta.operate..")
            .layer("store")
            .definedBy("dev.fiesta.store")
            .layer("work")
            .definedBy("dev.fiesta.work")
            .layer("plan")
            .definedBy("dev.fiesta.plan")
            .layer("step")
            .definedBy("dev.fiesta.step")
            .layer("walk")
            .definedBy("dev.fiesta.walk")
            .layer("gather")
            .definedBy("dev.fiesta.gather..")
            .layer("frames")
            .definedBy("dev.fiesta.gather.frames")
            .layer("keys")
            .definedBy("dev.fiesta.gather.keys")
            .layer("held")
            .definedBy("dev.fiesta.gather.values")
            .layer("compute")
            .definedBy("dev.fiesta.compute")
            .layer("moved")
            .definedBy("dev.fiesta.moved")
            .layer("copy")
            .definedBy("dev.fiesta.copy")
            .layer("source")
            .definedBy("dev.fiesta.source")
            .layer("cells")
            .definedBy("dev.fiesta.source.cells")
            .layer("files")
            .definedBy("dev.fiesta.source.files")
            .layer("language")
            .definedBy("dev.fiesta.language")
            .layer("value")
            .definedBy("dev.fiesta.value")
            .whereLayer("door")
            .mayNotBeAccessedByAnyLayer()
            .whereLayer("member")
            .mayOnlyBeAccessedByLayers("door")
            .whereLayer("task")
            .mayOnlyBeAccessedByLayers("door", "member")
            .whereLayer("stretch")
            .mayOnlyBeAccessedByLayers("door", "member", "engine", "survey")
            .whereLayer("crew")
            .mayOnlyBeAccessedByLayers("door", "member", "engine", "survey", "stretch")
            .whereLayer("brief")
            .mayOnlyBeAccessedByLayers("door", "member")
            .whereLayer("trace")
            .mayOnlyBeAccessedByLayers("door", "task")
            .whereLayer("survey")
            .mayOnlyBeAccessedByLayers("door", "member", "editing")
            .whereLayer("editing")
            .mayNotBeAccessedByAnyLayer()
            .whereLayer("engine")
            .mayOnlyBeAccessedByLayers("door", "member")
            .whereLayer("total")
            .mayOnlyBeAccessedByLayers("door", "engine")
            .whereLayer("operate")
            .mayOnlyBeAccessedByLayers("engine", "total")
            .whereLayer("store")
            .mayOnlyBeAccessedByLayers("door", "member", "engine", "total", "operate")
            .whereLayer("work")
            .mayOnlyBeAccessedByLayers("survey", "engine", "total", "operate", "store")
            .whereLayer("plan")
            .mayOnlyBeAccessedByLayers("door", "brief", "task", "trace", "editing")
            .whereLayer("step")
            .mayOnlyBeAccessedByLayers(
                    "door", "brief", "member", "task", "trace", "engine", "total", "operate", "store", "plan",
                    "editing")
            .whereLayer("walk")
            .mayOnlyBeAccessedByLayers("step", "plan", "engine", "total", "operate", "store", "work")
            .whereLayer("gather")
            .mayOnlyBeAccessedByLayers(
                    "trace", "walk", "step", "plan", "engine", "total", "operate", "survey", "editing")
            .whereLayer("source")
            .mayOnlyBeAccessedByLayers(
                    "door", "brief", "member", "task", "crew", "stretch", "engine", "store", "work", "survey", "copy")
            .whereLayer("cells")
            .mayOnlyBeAccessedByLayers("door", "brief", "copy", "source", "survey")
            .whereLayer("files")
            .mayOnlyBeAccessedByLayers("door", "brief", "cells", "copy", "member", "source", "store", "task")
            .whereLayer("moved")
            .mayOnlyBeAccessedByLayers("door")
            .whereLayer("copy")
            .mayOnlyBeAccessedByLayers("door", "brief")
            .whereLayer("language")
            .mayOnlyBeAccessedByLayers(
                    "door", "brief", "task", "trace", "operate", "step", "plan", "survey", "editing");

    @ArchTest
    static final ArchRule SILENT = noClasses()
            .should()
            .accessField(System.class, "out")
            .orShould()
            .accessField(System.class, "err")
            .because("the core has no interface");
}
