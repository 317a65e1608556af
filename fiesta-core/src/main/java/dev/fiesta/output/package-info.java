/**
 * Files that are written whole or not at all. Start at {@link dev.fiesta.output.OutputFolder} for the files of a run that belong
 * together, at {@link dev.fiesta.output.OutputFile} for a single one.
 */
@NullMarked
package dev.fiesta.output;

import org.jspecify.annotations.NullMarked;
