package dev.fiesta.gather.values;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import java.util.Objects;

/** Where equal values begin among values that stand in their order: equal ones have ranks side by side. */
public final class RankRuns {
    private final Shelf.Pages all;
    private final int count;
    private final long[] begins;

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
    }

    /** How many values there are, equal ones too. */
    public int count() {
        return count;
    }

    /** Whether a value differs from that of the rank before; so does what is behind the last. */
    public boolean begins(int rank) {
        return Bits.get(begins, rank);
    }

    /** How many different values there are. */
    public int different() {
        return Bits.count(begins) - 1;
    }

    /** The value of a rank, alone in a column. */
    public Column value(int rank) {
        int page = all.pageOf(rank);
        return all.page(page).take(new int[] {rank - all.before(page)}, 1).flat();
    }
}
