package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Slots that expressions read. */
final class Slots {
    private Slots() {}

    static BitSet read(Expression expression) {
        BitSet read = new BitSet();
        expression.fields(read::set);
        return read;
    }

    static void read(@Nullable Expression expression, BitSet into) {
        if (expression != null) {
            expression.fields(into::set);
        }
    }

    static void read(List<Expression> expressions, BitSet into) {
        expressions.forEach(e -> e.fields(into::set));
    }

    static void readKeys(List<OrderKey> keys, BitSet into) {
        keys.forEach(k -> k.key().fields(into::set));
    }

    /**
     * The slots that needed ones come from, of a step that makes new rows.
     *
     * @param origin for each slot behind it the slot before it, or -1
     */
    static BitSet origins(BitSet after, List<Integer> origin) {
        BitSet before = new BitSet();
        after.stream().filter(s -> s < origin.size() && origin.get(s) >= 0).forEach(s -> before.set(origin.get(s)));
        return before;
    }
}
