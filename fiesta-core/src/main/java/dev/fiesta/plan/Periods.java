package dev.fiesta.plan;

import dev.fiesta.language.Expr;
import dev.fiesta.language.Unit;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Tells from how a field is made how far its periods lie apart. */
final class Periods {
    private Periods() {}

    /** @param known the period of a field, or null */
    static Optional<Unit> of(Expr expr, Function<String, @Nullable Unit> known) {
        if (expr instanceof Expr.Name name) {
            return Optional.ofNullable(known.apply(name.name()));
        }
        if (!(expr instanceof Expr.Call call)) {
            return Optional.empty();
        }
        return Optional.ofNullable(
                switch (call.name()) {
                    case "date" -> Unit.DAY;
                    case "start_of_week" -> Unit.WEEK;
                    case "start_of_month", "month" -> Unit.MONTH;
                    case "start_of_quarter", "quarter", "fiscal_quarter" -> Unit.QUARTER;
                    case "start_of_year", "year", "fiscal_year" -> Unit.YEAR;
                    case "week" -> Unit.WEEK;
                    case "day", "weekday" -> Unit.DAY;
                    case "hour" -> Unit.HOUR;
                    case "minute" -> Unit.MINUTE;
                    default -> null;
                });
    }
}
