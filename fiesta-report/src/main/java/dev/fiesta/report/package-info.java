/** Briefs as documents, the records by which they repeat, and what is compared. Start at {@link dev.fiesta.report.Report}. */
@NullMarked
package dev.fiesta.report;

import org.jspecify.annotations.NullMarked;
