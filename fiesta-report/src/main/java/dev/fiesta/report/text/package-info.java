/** How values are written: by the format of their column, in the words of the language of the brief. Start at {@link dev.fiesta.report.text.CellFormat}. */
@NullMarked
package dev.fiesta.report.text;

import org.jspecify.annotations.NullMarked;
