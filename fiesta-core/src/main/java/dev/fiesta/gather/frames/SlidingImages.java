package dev.fiesta.gather.frames;

import dev.fiesta.gather.values.Image;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;

/** A sliding figure that is one of the values themselves: their images are noted, those of some rows at a time. */
public abstract class SlidingImages extends SlidingColumns {
    private final Type type;
    public Image image;
    public long[] noted = new long[0];

    public SlidingImages(Type type) {
        this.type = type;
        this.image = new Image(type);
    }

    @Override
    public void own(Column[] values, int rows) {
        super.own(values, rows);
        image = new Image(type);
        noted = new long[rows];
    }

    @Override
    public final Column figures() {
        return image.column(noted, noted.length, valid);
    }
}
