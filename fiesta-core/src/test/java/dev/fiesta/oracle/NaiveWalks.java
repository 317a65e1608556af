package dev.fiesta.oracle;

import dev.fiesta.language.Expr;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiFunction;
import org.jspecify.annotations.Nullable;

/** Walking functions over a partition in its order, straight from their definitions. */
final class NaiveWalks {
    static final Set<String> NAMES = Set.of(
            "row_number",
            "rank",
            "dense_rank",
            "percent_rank",
            "cume_dist",
            "ntile",
            "lag",
            "lead",
            "nth_value",
            "change",
            "relative_change");

    private NaiveWalks() {}

    static @Nullable Object value(
            Expr.Call call,
            List<Map<String, Object>> part,
            int at,
            BiFunction<Expr, Map<String, Object>, Object> eval) {
        if (List.of("percent_rank", "cume_dist", "ntile").contains(call.name())) {
            List<Map<String, Object>> there = part.stream()
                    .filter(row -> call.modifiers().along().stream().allMatch(k -> eval.apply(k.key(), row) != null))
                    .toList();
            if (there.size() < part.size()) {
                int place = -1;
                for (int i = 0; i < there.size(); i++) {
                    place = there.get(i) == part.get(at) ? i : place;
                }
                return place < 0 ? null : value(call, there, place, eval);
            }
        }
        int before = 0;
        int upTo = 0;
        TreeSet<String> groupsBefore = new TreeSet<>();
        for (Map<String, Object> row : part) {
            int sign = compare(call, row, part.get(at), eval);
            before += sign < 0 ? 1 : 0;
            upTo += sign <= 0 ? 1 : 0;
            if (sign < 0) {
                groupsBefore.add(String.valueOf(call.modifiers().along().stream()
                        .map(k -> eval.apply(k.key(), row))
                        .toList()));
            }
        }
        return switch (call.name()) {
            case "row_number" -> BigDecimal.valueOf(at + 1L);
            case "rank" -> BigDecimal.valueOf(before + 1L);
            case "dense_rank" -> BigDecimal.valueOf(groupsBefore.size() + 1L);
            case "percent_rank" -> part.size() == 1 ? (Object) 0.0 : (double) before / (part.size() - 1);
            case "cume_dist" -> (double) upTo / part.size();
            case "ntile" ->
                ntile(((BigDecimal) eval.apply(call.args().get(0), part.get(at))).intValue(), part.size(), at);
            case "change", "relative_change" -> change(call, part, at, eval);
            default -> offset(call, part, at, eval);
        };
    }

    private static int compare(
            Expr.Call call,
            Map<String, Object> a,
            Map<String, Object> b,
            BiFunction<Expr, Map<String, Object>, Object> eval) {
        for (Expr.SortKey key : call.modifiers().along()) {
            int sign = Naive.compare(eval.apply(key.key(), a), eval.apply(key.key(), b), key.descending());
            if (sign != 0) {
                return sign;
            }
        }
        return 0;
    }

    private static BigDecimal ntile(int parts, int size, int at) {
        int row = 0;
        for (int part = 1; ; part++) {
            row += size / parts + (part <= size % parts ? 1 : 0);
            if (at < row) {
                return BigDecimal.valueOf(part);
            }
        }
    }

    private static @Nullable LocalDate day(Expr.Call call, Map<String, Object> row) {
        return (LocalDate) Naive.eval(call.modifiers().along().get(0).key(), row);
    }

    private static LocalDate away(LocalDate day, Expr.Period span, boolean forward) {
        int amount = forward ? span.amount() : -span.amount();
        return switch (span.unit()) {
            case DAY -> day.plusDays(amount);
            case WEEK -> day.plusWeeks(amount);
            default -> day.plusMonths(amount);
        };
    }

    /** The rows of a partition that lie within a span of time of a row, which is one of them. */
    static List<Map<String, Object>> within(
            Expr.Call call,
            Expr.Period span,
            boolean forward,
            List<Map<String, Object>> part,
            Map<String, Object> row) {
        LocalDate here = day(call, row);
        return part.stream()
                .filter(r -> {
                    LocalDate there = day(call, r);
                    return here != null
                            && there != null
                            && (forward
                                    ? !there.isBefore(here) && there.isBefore(away(here, span, true))
                                    : !there.isAfter(here) && there.isAfter(away(here, span, false)));
                })
                .toList();
    }

    /** Whether the partition reaches as far as a span of time from a row. */
    static boolean isInside(
            Expr.Call call,
            Expr.Period span,
            boolean forward,
            List<Map<String, Object>> part,
            Map<String, Object> row) {
        LocalDate here = day(call, row);
        List<LocalDate> days = part.stream()
                .map(r -> day(call, r))
                .filter(d -> d != null)
                .sorted()
                .toList();
        return here != null
                && (forward
                        ? !days.get(days.size() - 1)
                                .isBefore(away(here, span, true).minusDays(1))
                        : !days.get(0).isAfter(away(here, span, false).plusDays(1)));
    }

    private static @Nullable Object byValue(
            Expr.Call call,
            Expr.Period span,
            List<Map<String, Object>> part,
            Map<String, Object> row,
            BiFunction<Expr, Map<String, Object>, Object> eval) {
        LocalDate here = day(call, row);
        Map<String, Object> found = null;
        for (Map<String, Object> other : part) {
            boolean fits =
                    here != null && away(here, span, call.name().equals("lead")).equals(day(call, other));
            found = fits ? other : found;
        }
        return found != null
                ? eval.apply(call.args().get(0), found)
                : call.args().size() > 2 ? eval.apply(call.args().get(2), row) : null;
    }

    private static @Nullable Object offset(
            Expr.Call call,
            List<Map<String, Object>> part,
            int at,
            BiFunction<Expr, Map<String, Object>, Object> eval) {
        if (call.args().size() > 1 && call.args().get(1) instanceof Expr.Period span) {
            return byValue(call, span, part, part.get(at), eval);
        }
        int n = call.args().size() > 1 ? ((BigDecimal) eval.apply(call.args().get(1), part.get(at))).intValue() : 1;
        int from = call.name().equals("lag") ? at - n : call.name().equals("lead") ? at + n : n - 1;
        if (from >= 0 && from < part.size()) {
            return eval.apply(call.args().get(0), part.get(from));
        }
        return call.args().size() > 2 ? eval.apply(call.args().get(2), part.get(at)) : null;
    }

    private static @Nullable Object change(
            Expr.Call call,
            List<Map<String, Object>> part,
            int at,
            BiFunction<Expr, Map<String, Object>, Object> eval) {
        Object now = eval.apply(call.args().get(0), part.get(at));
        Object before = at == 0 ? null : eval.apply(call.args().get(0), part.get(at - 1));
        if (now == null || before == null) {
            return null;
        }
        if (now instanceof LocalDate day) {
            return BigDecimal.valueOf(ChronoUnit.DAYS.between((LocalDate) before, day));
        }
        if (call.name().equals("change")) {
            return now instanceof Double x
                    ? (Object) NaiveRow.finite(x - (Double) before)
                    : ((BigDecimal) now).subtract((BigDecimal) before);
        }
        return NaiveRow.divide(NaiveRow.exact(now).subtract(NaiveRow.exact(before)), before);
    }
}
