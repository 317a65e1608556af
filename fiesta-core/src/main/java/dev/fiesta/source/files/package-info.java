/** Files as they stand on the disk: which are meant, how they are packed and encoded, what tells whether they changed. Start at {@link dev.fiesta.source.files.Paths}. */
@NullMarked
package dev.fiesta.source.files;

import org.jspecify.annotations.NullMarked;
