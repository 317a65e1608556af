/** A look at what came in: each field's type, gaps, values and oddities. Start at {@link dev.fiesta.survey.Survey}. */
@NullMarked
package dev.fiesta.survey;

import org.jspecify.annotations.NullMarked;
