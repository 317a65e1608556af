package dev.fiesta.gather.frames;

import dev.fiesta.value.Column;
import dev.fiesta.value.Type;

/** The first value of a frame that moves: of the rows inside, all of which have one, the one that goes next. */
public final class SlidingFirst extends SlidingImages {
    private long[] goingImages = new long[0];
    private int next = -1;

    public SlidingFirst(Type type) {
        super(type);
    }

    @Override
    public void own(Column[] values, int rows) {
        super.own(values, rows);
        if (going.length > 0) {
            going(going);
        }
    }

    @Override
    public void going(Column[] values) {
        super.going(values);
        goingImages = image.of(values[0]);
    }

    @Override
    public void come(int row) {
        // Which row goes next is told apart.
    }

    @Override
    public void go(int row) {
        // Which row goes next is told apart.
    }

    @Override
    public void goesNext(int row) {
        next = row;
    }

    @Override
    public void look(int row) {
        if (next < 0) {
            none(row);
        } else {
            noted[row] = goingImages[next];
        }
    }
}
