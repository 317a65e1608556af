/** Cells of text and what they say: how they are written ({@link dev.fiesta.source.cells.Dialect}), what a field takes ({@link dev.fiesta.source.cells.FieldSpec}), readers for each type. */
@NullMarked
package dev.fiesta.source.cells;

import org.jspecify.annotations.NullMarked;
