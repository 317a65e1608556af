package dev.fiesta.gather;

import dev.fiesta.value.Column;
import dev.fiesta.value.Type;

/** The first value of a frame that moves: of the rows inside, all of which have one, the one that goes next. */
final class SlidingFirst extends SlidingColumns {
    private final Image image;
    private long[] goingImages = new long[0];
    private int next = -1;
    private long[] noted = new long[0];

    SlidingFirst(Type type) {
        this.image = new Image(type);
    }

    @Override
    public void going(Column[] values) {
        goingImages = image.of(values[0]);
    }

    @Override
    public void own(Column[] values, int rows) {
        super.own(values, rows);
        noted = new long[rows];
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

    @Override
    public Column figures() {
        return image.column(noted, noted.length, valid);
    }
}
