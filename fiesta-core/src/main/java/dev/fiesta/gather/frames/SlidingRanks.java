package dev.fiesta.gather.frames;

import dev.fiesta.gather.values.Image;
import dev.fiesta.gather.values.RankedValues;
import dev.fiesta.gather.values.SortedFigure;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;

/** A figure that is told from values in their order; the rank of each is the second argument. */
public final class SlidingRanks extends SlidingColumns {
    private final SortedFigure figure;
    private final RankedValues inside;
    private final Image image;
    private long[] comingImages = new long[0];
    private long[] goingImages = new long[0];

    public SlidingRanks(SortedFigure figure, RankedValues inside) {
        this.figure = figure;
        this.inside = inside;
        this.image = new Image(figure.type());
    }

    @Override
    public void coming(Column[] values) {
        super.coming(values);
        comingImages = image.of(values[0]);
    }

    @Override
    public void going(Column[] values) {
        super.going(values);
        goingImages = image.of(values[0]);
    }

    @Override
    public void come(int row) {
        inside.move(rank(coming, row), comingImages[row], false);
    }

    @Override
    public void go(int row) {
        inside.move(rank(going, row), goingImages[row], true);
    }

    /** The rank of a value, which is its second argument. */
    static int rank(Column[] values, int row) {
        return (int) ((LongColumn) values[1]).values()[row];
    }

    @Override
    public void look(int row) {
        if (inside.size() == 0) {
            none(row);
        } else {
            numbers[row] = figure.figure().applyAsDouble(inside);
        }
    }
}
