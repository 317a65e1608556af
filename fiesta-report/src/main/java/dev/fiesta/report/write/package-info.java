/** Who writes a format, into a folder or to a stream. Start at {@link dev.fiesta.report.write.FormatWriter}. */
@NullMarked
package dev.fiesta.report.write;

import org.jspecify.annotations.NullMarked;
