package dev.fiesta.gather.values;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.TruthColumn;
import java.util.Objects;

/** Where equal values begin among values that stand in their order: equal ones have ranks side by side. */
public final class RankRuns {
    /** Ranks of which it is known where the value of the first begins, as a power of two: a value may have any number. */
    private static final int STRETCH_BITS = 12;

    private final Shelf.Pages all;
    private final int count;
    private final long[] begins;
    private final int[] stretches;
    private int page = -1;
    private Column values = new TruthColumn(Bits.none(0), 0, null);

    public RankRuns(Shelf.Pages all) {
        this.all = all;
        this.count = all.before(all.pages());
        this.begins = Bits.none(count + 1);
        Object last = null;
        for (int p = 0; p < all.pages(); p++) {
            Column page = all.page(p).flat();
            long[] images = new Image(page.type()).of(page);
            for (int i = 0; i < page.size(); i++) {
                boolean same = i > 0 ? images[i] == images[i - 1] : Objects.equals(page.get(0), last);
                if (!same) {
                    Bits.set(begins, all.before(p) + i);
                }
            }
            last = page.size() > 0 ? page.get(page.size() - 1) : last;
        }
        Bits.set(begins, count);
        this.stretches = new int[(count >> STRETCH_BITS) + 1];
        for (int s = 1; s < stretches.length; s++) {
            int start = s << STRETCH_BITS;
            int begin = Bits.last(begins, start - (1 << STRETCH_BITS) + 1, start);
            stretches[s] = begin > start - (1 << STRETCH_BITS) ? begin : stretches[s - 1];
        }
    }

    /** The first rank of the value that has a rank. */
    public int begin(int rank) {
        int start = rank >> STRETCH_BITS << STRETCH_BITS;
        int begin = Bits.last(begins, start, rank);
        return begin >= start ? begin : stretches[rank >> STRETCH_BITS];
    }

    /** The first rank from one on, and before an end, at which a value begins; otherwise the end. */
    public int next(int from, int end) {
        return Bits.next(begins, from, end);
    }

    /** How many values there are, equal ones too. */
    public int count() {
        return count;
    }

    /** Whether a value differs from that of the rank before; so does what is behind the last. */
    public boolean begins(int rank) {
        return Bits.get(begins, rank);
    }

    /** The value of a rank, alone in a column. */
    public Column value(int rank) {
        int wanted = all.pageOf(rank);
        if (wanted != page) {
            values = all.page(wanted);
            page = wanted;
        }
        return values.take(new int[] {rank - all.before(page)}, 1).flat();
    }
}
