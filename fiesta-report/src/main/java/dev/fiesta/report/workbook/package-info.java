/** Reports as workbooks. Start at {@link dev.fiesta.report.workbook.Workbook}. */
@NullMarked
package dev.fiesta.report.workbook;

import org.jspecify.annotations.NullMarked;
