/** Tables and charts made of characters. Start at {@link dev.fiesta.report.terminal.TextTable}. */
@NullMarked
package dev.fiesta.report.terminal;

import org.jspecify.annotations.NullMarked;
