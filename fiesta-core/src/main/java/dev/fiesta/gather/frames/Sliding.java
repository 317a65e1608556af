package dev.fiesta.gather.frames;

import dev.fiesta.value.Column;

/**
 * A figure over a frame that moves: rows come into it and go out of it in their order, told one by one by their places in some columns,
 * so that nobody need hold what is inside.
 */
public interface Sliding {
    /** The columns in which rows that come stand from now on; missing where a condition does not hold. */
    void coming(Column[] values);

    /** The columns in which rows that go stand from now on. */
    void going(Column[] values);

    /** The columns of the rows that the figure is looked at from: there will be a figure for each of them. */
    void own(Column[] values, int rows);

    void come(int row);

    void go(int row);

    /**
     * Tells, before a look, which of the rows inside goes next.
     *
     * @param row its place in the columns of those that go; negative where nothing is inside
     */
    default void goesNext(int row) {}

    /** Notes the figure of what is inside now, for a row. */
    void look(int row);

    /** The figures of the rows that were looked from. */
    Column figures();

    /** The figures of frames over rows that stand in memory. */
    static Column over(Frames frames, Column[] values, Sliding figure) {
        figure.coming(values);
        figure.going(values);
        figure.own(values, frames.size());
        frames.each(
                (position, away) -> {
                    if (away) {
                        figure.go(position);
                    } else {
                        figure.come(position);
                    }
                },
                figure::look);
        return figure.figures();
    }
}
