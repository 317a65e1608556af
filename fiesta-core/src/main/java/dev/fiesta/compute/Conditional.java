package dev.fiesta.compute;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntConsumer;
import org.jspecify.annotations.Nullable;

/** {@code if … then … else …} and {@code coalesce}: each value is worked out only for the rows that take it. */
public final class Conditional extends Expression {
    private final List<@Nullable Expression> conditions;
    private final List<Expression> values;
    private final Apply.Place place;

    /**
     * @param conditions one for each value; null asks whether the value itself is there
     * @param values the values, of types that {@link Types#common} brings together
     * @param place where it stands, for values that do not fit that type
     */
    public Conditional(Type type, List<@Nullable Expression> conditions, List<Expression> values, Apply.Place place) {
        super(type);
        this.place = place;
        this.conditions = new ArrayList<>(conditions);
        this.values = List.copyOf(values);
    }

    @Override
    public Kernel kernel(Notices notices) {
        List<@Nullable Kernel> tests = new ArrayList<>();
        for (Expression condition : conditions) {
            tests.add(condition == null ? null : condition.kernel(notices));
        }
        List<Kernel> results = new ArrayList<>();
        for (int i = 0; i < values.size(); i++) {
            // What the next value stands in for is not left missing, so it is not counted here.
            boolean standsIn = conditions.get(i) == null && i + 1 < values.size();
            results.add(values.get(i).kernel(standsIn ? notices.without(Notices.Kind.TRY_FAILED) : notices));
        }
        return batch -> eval(batch, tests, results);
    }

    private Column eval(Batch batch, List<@Nullable Kernel> tests, List<Kernel> results) {
        int size = batch.size();
        int[] open = RowNumbers.where(Bits.all(size), size);
        int[] origin = new int[size];
        Arrays.fill(origin, -1);
        List<Column> parts = new ArrayList<>();
        int placed = 0;
        for (int i = 0; i < results.size() && open.length > 0; i++) {
            Batch rest = batch.select(open, open.length);
            Kernel test = tests.get(i);
            Column part;
            int[] taken;
            if (test == null) {
                part = fitted(results.get(i), rest);
                taken = present(part);
            } else {
                TruthColumn met =
                        (TruthColumn) Types.widen(test.eval(rest), Type.TRUTH).flat();
                taken = RowNumbers.where(met.bits(), rest.size());
                part = fitted(results.get(i), rest.select(taken, taken.length));
            }
            parts.add(part);
            for (int k = 0; k < taken.length; k++) {
                origin[open[taken[k]]] = placed + (test == null ? taken[k] : k);
            }
            placed += part.size();
            open = without(open, taken);
        }
        return Column.join(type(), parts).take(origin, size);
    }

    private Column fitted(Kernel value, Batch rows) {
        Column column = value.eval(rows);
        try {
            return Types.widen(column, type());
        } catch (Fault fault) {
            throw place.failure(fault, rows);
        }
    }

    private static int[] present(Column column) {
        long[] valid = column.flat().valid();
        return RowNumbers.where(valid == null ? Bits.all(column.size()) : valid, column.size());
    }

    /** The rows left when those at the places {@code taken} are gone. */
    private static int[] without(int[] open, int[] taken) {
        int[] left = new int[open.length - taken.length];
        int next = 0;
        int kept = 0;
        for (int i = 0; i < open.length; i++) {
            if (next < taken.length && taken[next] == i) {
                next++;
            } else {
                left[kept++] = open[i];
            }
        }
        return left;
    }

    @Override
    public void fields(IntConsumer field) {
        conditions.forEach(c -> {
            if (c != null) {
                c.fields(field);
            }
        });
        values.forEach(v -> v.fields(field));
    }

    @Override
    public boolean isSameAs(Expression other) {
        return other instanceof Conditional choice
                && choice.type().equals(type())
                && areSame(conditions, choice.conditions)
                && areSame(values, choice.values);
    }

    @Override
    public boolean mayFail() {
        return values.stream().anyMatch(Expression::mayFail)
                || conditions.stream().anyMatch(c -> c != null && c.mayFail());
    }
}
