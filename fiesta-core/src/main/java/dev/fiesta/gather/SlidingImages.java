package dev.fiesta.gather;

import dev.fiesta.value.Column;
import dev.fiesta.value.Type;

/** A sliding figure that is one of the values themselves: their images are noted. */
abstract class SlidingImages extends SlidingColumns {
    final Image image;
    long[] noted = new long[0];

    SlidingImages(Type type) {
        this.image = new Image(type);
    }

    @Override
    public void own(Column[] values, int rows) {
        super.own(values, rows);
        noted = new long[rows];
    }

    @Override
    public final Column figures() {
        return image.column(noted, noted.length, valid);
    }
}
