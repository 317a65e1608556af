package dev.fiesta.oracle;

import dev.fiesta.language.Expr;
import java.math.BigDecimal;
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

    private static @Nullable Object offset(
            Expr.Call call,
            List<Map<String, Object>> part,
            int at,
            BiFunction<Expr, Map<String, Object>, Object> eval) {
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
        if (call.name().equals("change")) {
            return now instanceof Double x
                    ? (Object) NaiveRow.finite(x - (Double) before)
                    : ((BigDecimal) now).subtract((BigDecimal) before);
        }
        return NaiveRow.divide(NaiveRow.exact(now).subtract(NaiveRow.exact(before)), before);
    }
}
