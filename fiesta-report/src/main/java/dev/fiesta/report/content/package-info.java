/** What a report shows, whatever it is written as. Start at {@link dev.fiesta.report.content.Content}. */
@NullMarked
package dev.fiesta.report.content;

import org.jspecify.annotations.NullMarked;
