/** Charts: what is drawn, how it looks, and drawings of it. Start at {@link dev.fiesta.report.chart.Charts}; a kind is a class of its own. */
@NullMarked
package dev.fiesta.report.chart;

import org.jspecify.annotations.NullMarked;
