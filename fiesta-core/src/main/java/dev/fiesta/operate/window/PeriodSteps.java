package dev.fiesta.operate.window;

import dev.fiesta.value.Days;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Unit;
import dev.fiesta.value.Values;

/** PeriodSteps along a key that is made of periods. */
public final class PeriodSteps {
    private PeriodSteps() {}

    /** Whether a row lies just one period after another, or one before it; level with it counts as even. */
    static boolean isOne(Unit period, LongColumn key, int last, int row, boolean descending) {
        long from = key.values()[descending ? row : last];
        long to = key.values()[descending ? last : row];
        if (from == to) {
            return true;
        }
        if (key.type().kind() == Kind.INTEGER) {
            return to == from + 1;
        }
        long months = period == Unit.MONTH ? 1 : period == Unit.QUARTER ? 3 : period == Unit.YEAR ? 12 : 0;
        long micros = switch (period) {
            case DAY -> Values.MICROS_A_DAY;
            case WEEK -> 7 * Values.MICROS_A_DAY;
            case HOUR -> Values.MICROS_A_DAY / 24;
            case MINUTE -> Values.MICROS_A_DAY / 24 / 60;
            default -> 0;
        };
        return to == Days.shift(key.type(), from, months, micros);
    }
}
