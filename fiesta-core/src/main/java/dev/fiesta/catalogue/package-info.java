/** What the language offers, one entry for each function. Start at {@link dev.fiesta.catalogue.Entry}. */
@NullMarked
package dev.fiesta.catalogue;

import org.jspecify.annotations.NullMarked;
