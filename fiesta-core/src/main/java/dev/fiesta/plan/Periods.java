package dev.fiesta.plan;

import dev.fiesta.compute.RowFunction;
import dev.fiesta.compute.RowFunctions;
import dev.fiesta.language.Expr;
import dev.fiesta.value.Unit;
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
        RowFunction function = RowFunctions.find(call.name());
        return Optional.ofNullable(function == null ? null : function.period());
    }
}
