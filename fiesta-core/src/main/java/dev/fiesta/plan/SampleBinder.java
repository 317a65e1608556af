package dev.fiesta.plan;

import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.step.SampleStep;
import java.math.BigDecimal;
import java.util.List;

/** Settles {@code sample} and {@code shuffle}: rows by chance, the same each time. */
final class SampleBinder {
    private final TableBinding table;

    SampleBinder(TableBinding table) {
        this.table = table;
    }

    void sample(Clause.Sample clause) {
        BigDecimal count =
                clause.percent() ? percent(clause.count()) : BigDecimal.valueOf(table.count(clause.count(), "sample"));
        List<Expression> within =
                clause.within().stream().map(k -> table.row("sample", k, false)).toList();
        table.steps.add(new SampleStep(count, clause.percent(), within, clause.seed(), table.scope.identity(), false));
    }

    private BigDecimal percent(Expr expr) {
        Object value = table.row("sample", expr, false) instanceof Constant constant ? constant.value() : null;
        BigDecimal percent = value instanceof Long n ? BigDecimal.valueOf(n) : value instanceof BigDecimal d ? d : null;
        if (percent == null || percent.signum() < 0 || percent.compareTo(BigDecimal.valueOf(100)) > 0) {
            throw table.context.complaint(
                    expr.at(),
                    "Before 'percent' stands a number from 0 to 100.",
                    "Write for instance 'sample 5 percent'.");
        }
        return percent;
    }

    void shuffle(Clause.Shuffle clause) {
        BigDecimal all = BigDecimal.valueOf(100);
        table.steps.add(new SampleStep(all, true, List.of(), clause.seed(), table.scope.identity(), true));
    }
}
