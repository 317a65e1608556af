/**
 * Files of columns: Parquet in and out. {@code Fiesta.with().reads(ParquetFiles.FORMAT)} reads them; tables are written where this jar is there.
 */
@NullMarked
package dev.fiesta.parquet;

import org.jspecify.annotations.NullMarked;
