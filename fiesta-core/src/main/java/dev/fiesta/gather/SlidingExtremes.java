package dev.fiesta.gather;

import dev.fiesta.gather.frames.SlidingColumns;
import dev.fiesta.gather.values.Drawer;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import org.jspecify.annotations.Nullable;

/** What is least, greatest or last in a frame that moves: of rows that may still win as it moves on, the first. */
final class SlidingExtremes extends SlidingColumns {
    /** Bytes of texts that are not worth forgetting. */
    private static final long LITTLE = 1 << 16;

    private final Extremes.By by;
    private final Winners winners;
    private long[] comingDecides = new long[0];
    private long[] comingShows = new long[0];
    private long[] noted = new long[0];
    private long came;
    private long gone;
    private long needed;

    /** @param drawer takes rows that are too many to be held, or null */
    SlidingExtremes(Extremes.By by, Type shown, Type deciding, @Nullable Drawer drawer) {
        this.by = by;
        this.winners = new Winners(shown, deciding, drawer);
    }

    @Override
    public void own(Column[] values, int rows) {
        super.own(values, rows);
        noted = new long[rows];
        if (winners.texts() > 2 * needed + LITTLE) {
            winners.forget();
            needed = winners.texts();
            coming(coming);
        }
    }

    @Override
    public void coming(Column[] values) {
        super.coming(values);
        comingDecides = winners.deciding().of(values[values.length - 1]);
        comingShows = winners.shown().of(values[0]);
    }

    @Override
    public void come(int row) {
        long place = came++;
        if (coming[0].isMissing(row) || coming[coming.length - 1].isMissing(row)) {
            return;
        }
        while (!winners.isEmpty() && loses(winners.last(), comingDecides[row])) {
            winners.removeLast();
        }
        winners.add(comingDecides[row], comingShows[row], place);
    }

    /** Whether a row cannot win any more once another has come. */
    private boolean loses(long one, long other) {
        return switch (by) {
            case LEAST -> winners.deciding().compare(one, other) > 0;
            case GREATEST -> winners.deciding().compare(one, other) < 0;
            default -> true; // the last
        };
    }

    @Override
    public void go(int row) {
        if (!winners.isEmpty() && winners.firstPlace() == gone) {
            winners.removeFirst();
        }
        gone++;
    }

    @Override
    public void look(int row) {
        if (winners.isEmpty()) {
            none(row);
        } else {
            noted[row] = winners.first();
        }
    }

    @Override
    public Column figures() {
        return winners.shown().column(noted, noted.length, valid);
    }
}
