/** Charts that an office program draws itself, from cells of the workbook: workbooks have them where this jar is there. */
@NullMarked
package dev.fiesta.sheetcharts;

import org.jspecify.annotations.NullMarked;
