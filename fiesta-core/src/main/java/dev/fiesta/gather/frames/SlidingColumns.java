package dev.fiesta.gather.frames;

import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Validity;
import org.jspecify.annotations.Nullable;

/** What sliding figures have in common: the columns that rows stand in, and numbers that are noted, some of them missing. */
public abstract class SlidingColumns implements Sliding {
    private static final Column[] NONE = new Column[0];

    public Column[] coming = NONE;
    public Column[] going = NONE;
    public Column[] own = NONE;
    public double[] numbers = new double[0];
    public long @Nullable [] valid;

    @Override
    public void coming(Column[] values) {
        coming = values;
    }

    @Override
    public void going(Column[] values) {
        going = values;
    }

    @Override
    public void own(Column[] values, int rows) {
        own = values;
        numbers = new double[rows];
        valid = null;
    }

    /** Notes that a row has no figure. */
    public final void none(int row) {
        valid = Validity.without(valid, numbers.length, row);
    }

    @Override
    public Column figures() {
        return DoubleColumn.cleaned(numbers, numbers.length, valid);
    }
}
