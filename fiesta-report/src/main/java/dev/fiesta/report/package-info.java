/** Briefs as documents: layout, charts, terminal, HTML. */
@NullMarked
package dev.fiesta.report;

import org.jspecify.annotations.NullMarked;
