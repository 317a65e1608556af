/** Charts that an office program draws itself: what is told of one, and who can make it. Start at {@link dev.fiesta.report.sheet.SheetCharts}. */
@NullMarked
package dev.fiesta.report.sheet;

import org.jspecify.annotations.NullMarked;
