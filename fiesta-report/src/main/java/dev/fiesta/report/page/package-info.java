/** Reports as pages, as paper, as marked-up text. Start at {@link dev.fiesta.report.page.Blocks}. */
@NullMarked
package dev.fiesta.report.page;

import org.jspecify.annotations.NullMarked;
