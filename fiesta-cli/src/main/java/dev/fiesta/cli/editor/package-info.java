/** Briefs in editors, over the open language server protocol. The door is {@link BriefServer}. */
@org.jspecify.annotations.NullMarked
package dev.fiesta.cli.editor;
