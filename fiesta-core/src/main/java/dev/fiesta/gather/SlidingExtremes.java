package dev.fiesta.gather;

import dev.fiesta.gather.frames.SlidingImages;
import dev.fiesta.gather.values.Image;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.Arrays;

/** What is least, greatest or last in a frame that moves: a queue of rows that may still win as it moves on, the winner first. */
final class SlidingExtremes extends SlidingImages {
    private static final int FEW = 64;

    private final Extremes.By by;
    private final Image deciding;
    private long[] comingDecides = new long[0];
    private long[] comingShows = new long[0];
    /** For each row of the queue, in a ring, what decides, what is shown, and how many rows came before it. */
    private long[] decides = new long[FEW];

    private long[] shows = new long[FEW];
    private long[] places = new long[FEW];
    private long first;
    private long behind;
    private long came;
    private long gone;

    SlidingExtremes(Extremes.By by, Type shown, Type deciding) {
        super(shown);
        this.by = by;
        this.deciding = new Image(deciding);
    }

    @Override
    public void coming(Column[] values) {
        super.coming(values);
        comingDecides = deciding.of(values[values.length - 1]);
        comingShows = image.of(values[0]);
    }

    @Override
    public void come(int row) {
        long place = came++;
        if (coming[0].isMissing(row) || coming[coming.length - 1].isMissing(row)) {
            return;
        }
        while (behind > first && loses(decides[at(behind - 1)], comingDecides[row])) {
            behind--;
        }
        if (behind - first == places.length) {
            grow();
        }
        decides[at(behind)] = comingDecides[row];
        shows[at(behind)] = comingShows[row];
        places[at(behind)] = place;
        behind++;
    }

    /** Whether a row cannot win any more once another has come. */
    private boolean loses(long one, long other) {
        return switch (by) {
            case LEAST -> deciding.compare(one, other) > 0;
            case GREATEST -> deciding.compare(one, other) < 0;
            default -> true; // the last
        };
    }

    private int at(long place) {
        return (int) (place & (places.length - 1));
    }

    private void grow() {
        int size = places.length;
        int start = at(first);
        decides = turned(decides, start, size);
        shows = turned(shows, start, size);
        places = turned(places, start, size);
        first = 0;
        behind = size;
    }

    /** A ring that starts at its beginning, with as much room again behind. */
    private static long[] turned(long[] ring, int start, int size) {
        long[] wider = Arrays.copyOfRange(ring, start, start + 2 * size);
        System.arraycopy(ring, 0, wider, size - start, start);
        return wider;
    }

    @Override
    public void go(int row) {
        if (behind > first && places[at(first)] == gone) {
            first++;
        }
        gone++;
    }

    @Override
    public void look(int row) {
        if (behind == first) {
            none(row);
        } else {
            noted[row] = shows[at(first)];
        }
    }
}
