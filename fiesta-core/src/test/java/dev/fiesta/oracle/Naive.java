package dev.fiesta.oracle;

import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * The specification as a program: clauses run row by row over plain objects, as slowly as may be. It shares the syntax trees
 * with the engine, and nothing else. A row is a map from names to {@code BigDecimal} (integers and decimals), {@code Double},
 * {@code String}, {@code LocalDate}, {@code LocalDateTime}, {@code Boolean} or null.
 */
final class Naive {
    private List<Map<String, Object>> rows;

    private Naive(List<Map<String, Object>> rows) {
        this.rows = rows;
    }

    static List<Map<String, Object>> run(List<Map<String, Object>> rows, List<Clause> clauses) {
        Naive naive = new Naive(copies(rows));
        clauses.forEach(naive::apply);
        return naive.rows;
    }

    private static List<Map<String, Object>> copies(List<Map<String, Object>> rows) {
        List<Map<String, Object>> copies = new ArrayList<>();
        rows.forEach(r -> copies.add(new LinkedHashMap<>(r)));
        return copies;
    }

    private void apply(Clause clause) {
        if (clause instanceof Clause.Only only) {
            List<Object> met = column(only.condition());
            List<Map<String, Object>> kept = new ArrayList<>();
            for (int i = 0; i < rows.size(); i++) {
                if (Boolean.TRUE.equals(met.get(i))) {
                    kept.add(rows.get(i));
                }
            }
            rows = kept;
        } else if (clause instanceof Clause.Add add) {
            for (Assign field : add.fields()) {
                List<Object> values = column(field.value());
                for (int i = 0; i < rows.size(); i++) {
                    rows.get(i).put(field.name(), values.get(i));
                }
            }
        } else if (clause instanceof Clause.Per per) {
            group(per);
        } else if (clause instanceof Clause.Sort sort) {
            rows = sorted(rows, sort.keys());
        } else if (clause instanceof Clause.First first) {
            int count = ((BigDecimal) column(first.count()).stream().findFirst().orElse(BigDecimal.ZERO)).intValue();
            rows = new ArrayList<>(rows.subList(0, Math.min(count, rows.size())));
        } else if (clause instanceof Clause.Distinct distinct) {
            Map<List<Object>, Map<String, Object>> met = new LinkedHashMap<>();
            for (Map<String, Object> row : rows) {
                List<Object> key = new ArrayList<>();
                distinct.fields().forEach(f -> key.add(row.get(f.name())));
                met.putIfAbsent(distinct.fields().isEmpty() ? new ArrayList<>(row.values()) : key, row);
            }
            rows = new ArrayList<>(met.values());
        } else if (clause instanceof Clause.Fill fill) {
            fill(fill);
        } else {
            throw new UnsupportedOperationException(clause.toString());
        }
    }

    private void fill(Clause.Fill fill) {
        List<Map<String, Object>> before = copies(rows);
        for (int i = 0; i < rows.size(); i++) {
            for (dev.fiesta.language.Ref field : fill.fields()) {
                if (rows.get(i).get(field.name()) == null) {
                    rows.get(i).put(field.name(), known(fill, field.name(), before, before.get(i)));
                }
            }
        }
    }

    /** The nearest value that is known, walking away from a row through its partition. */
    private static @Nullable Object known(
            Clause.Fill fill, String field, List<Map<String, Object>> all, Map<String, Object> row) {
        List<Map<String, Object>> part = new ArrayList<>();
        for (Map<String, Object> other : all) {
            if (fill.within().stream().allMatch(k -> compare(eval(k, row), eval(k, other), false) == 0)) {
                part.add(other);
            }
        }
        part = sorted(part, fill.along());
        int at = 0;
        while (part.get(at) != row) {
            at++;
        }
        int step = fill.fromAfter() ? 1 : -1;
        Object most = fill.atMost() instanceof Expr.Literal literal ? literal.value() : null;
        for (int i = at + step; i >= 0 && i < part.size(); i += step) {
            if (most != null && Math.abs(i - at) > (Long) most) {
                return null;
            }
            Object value = part.get(i).get(field);
            if (value != null) {
                return fill.atMost() instanceof Expr.Period span && !isNear(fill, span, part.get(i), row)
                        ? null
                        : value;
            }
        }
        return null;
    }

    private static boolean isNear(
            Clause.Fill fill, Expr.Period span, Map<String, Object> known, Map<String, Object> row) {
        Object a = eval(fill.along().get(0).key(), known);
        Object b = eval(fill.along().get(0).key(), row);
        if (a == null || b == null) {
            return false;
        }
        boolean ahead = NaiveRow.compare(a, b) > 0;
        Expr reach = new Expr.Binary(
                ahead ? dev.fiesta.language.Op.MINUS : dev.fiesta.language.Op.PLUS,
                fill.along().get(0).key(),
                span,
                fill.at());
        Object limit = eval(reach, known);
        return ahead ? NaiveRow.compare(b, limit) >= 0 : NaiveRow.compare(b, limit) <= 0;
    }

    /** The value of an expression for each row; calls that look at many rows see them all. */
    private List<Object> column(Expr expr) {
        List<Object> values = new ArrayList<>();
        for (Map<String, Object> row : rows) {
            values.add(new NaiveRow(row, call -> walk(call, row)).eval(expr));
        }
        return values;
    }

    static Object eval(Expr expr, Map<String, Object> row) {
        return new NaiveRow(row, call -> {
                    throw new UnsupportedOperationException(call.name());
                })
                .eval(expr);
    }

    static List<Map<String, Object>> sorted(List<Map<String, Object>> rows, List<Expr.SortKey> keys) {
        Comparator<Map<String, Object>> order = (a, b) -> 0;
        for (Expr.SortKey key : keys) {
            order = order.thenComparing((a, b) -> compare(eval(key.key(), a), eval(key.key(), b), key.descending()));
        }
        List<Map<String, Object>> sorted = new ArrayList<>(rows);
        sorted.sort(order);
        return sorted;
    }

    /** Missing last, either way. */
    static int compare(@Nullable Object a, @Nullable Object b, boolean descending) {
        if (a == null || b == null) {
            return a == null ? (b == null ? 0 : 1) : -1;
        }
        int sign = NaiveRow.compare(a, b);
        return descending ? -sign : sign;
    }

    private List<Map<String, Object>> partition(Expr.Call call, Map<String, Object> row) {
        List<Expr> within =
                call.modifiers().within() == null ? List.of() : call.modifiers().within();
        List<Map<String, Object>> part = new ArrayList<>();
        for (Map<String, Object> other : rows) {
            boolean same = true;
            for (Expr key : within) {
                same &= compare(eval(key, row), eval(key, other), false) == 0;
            }
            if (same) {
                part.add(other);
            }
        }
        return sorted(part, call.modifiers().along());
    }

    private @Nullable Object walk(Expr.Call call, Map<String, Object> row) {
        List<Map<String, Object>> part = partition(call, row);
        Expr only = call.modifiers().only();
        boolean walking = NaiveWalks.NAMES.contains(call.name());
        if (walking && only != null) {
            part.removeIf(r -> !Boolean.TRUE.equals(eval(only, r)));
        }
        int at = -1;
        for (int i = 0; i < part.size(); i++) {
            at = part.get(i) == row ? i : at;
        }
        if (walking) {
            return at < 0 ? null : NaiveWalks.value(call, part, at, Naive::eval);
        }
        if (call.name().equals("share") && call.modifiers().frame() == null) {
            if (only != null && !Boolean.TRUE.equals(eval(only, row))) {
                return null; // a row that is not among those summed has no part of them
            }
            return NaiveRow.divide(eval(call.args().get(0), row), NaiveFigures.unrounded(values(call, part, only)));
        }
        Expr.Frame frame = call.modifiers().frame();
        int from = 0;
        int to = part.size();
        boolean inside = true;
        if (frame != null) {
            long first = frame.from() == Expr.Frame.START
                    ? 0
                    : frame.from() == Expr.Frame.END ? to : (long) at + frame.from();
            long behind =
                    frame.to() == Expr.Frame.END ? to : frame.to() == Expr.Frame.START ? 0 : (long) at + frame.to() + 1;
            inside = first >= 0 && behind <= to;
            from = (int) Math.max(0, Math.min(first, to));
            to = (int) Math.max(from, Math.min(behind, to));
        }
        List<Map<String, Object>> framed = part.subList(from, to);
        if (frame != null && frame.span() instanceof Expr.Period span) {
            framed = NaiveWalks.within(call, span, frame.forward(), part, row);
            inside = NaiveWalks.isInside(call, span, frame.forward(), part, row);
        }
        List<List<Object>> values = values(call, framed, only);
        boolean shown = frame == null
                || ((!frame.full() || inside)
                        && values.stream()
                                        .filter(v -> v.isEmpty() || v.get(0) != null)
                                        .count()
                                >= frame.atLeast());
        if (shown && call.name().equals("share")) {
            Object own = only == null || Boolean.TRUE.equals(eval(only, row))
                    ? eval(call.args().get(0), row)
                    : null;
            return NaiveRow.divide(own, NaiveFigures.unrounded(values));
        }
        return shown ? NaiveFigures.figure(call.name(), values) : null;
    }

    private static List<List<Object>> values(Expr.Call call, List<Map<String, Object>> part, @Nullable Expr only) {
        List<List<Object>> values = new ArrayList<>();
        for (Map<String, Object> row : part) {
            if (only == null || Boolean.TRUE.equals(eval(only, row))) {
                List<Object> args = new ArrayList<>();
                call.args().forEach(a -> args.add(eval(a, row)));
                values.add(args);
            }
        }
        return values;
    }

    private void group(Clause.Per per) {
        Comparator<List<Object>> order = (a, b) -> {
            int sign = 0;
            for (int i = 0; i < a.size() && sign == 0; i++) {
                sign = compare(a.get(i), b.get(i), false);
            }
            return sign;
        };
        TreeMap<List<Object>, List<Map<String, Object>>> groups = new TreeMap<>(order);
        if (per.keys().isEmpty()) {
            groups.put(List.of(), new ArrayList<>());
        }
        for (Map<String, Object> row : rows) {
            List<Object> key = new ArrayList<>();
            per.keys().forEach(k -> key.add(eval(k.value(), row)));
            groups.computeIfAbsent(key, k -> new ArrayList<>()).add(row);
        }
        List<Map<String, Object>> result = new ArrayList<>();
        groups.forEach((key, members) -> result.add(figures(per, key, members)));
        rows = result;
    }

    private Map<String, Object> figures(Clause.Per per, List<Object> key, List<Map<String, Object>> members) {
        Map<String, Object> row = new LinkedHashMap<>();
        for (int i = 0; i < key.size(); i++) {
            row.put(per.keys().get(i).name(), key.get(i));
        }
        for (Clause.Figure figure : per.figures()) {
            Assign assign = ((Clause.Single) figure).figure();
            row.put(assign.name(), new NaiveRow(row, call -> gather(call, per, row, members)).eval(assign.value()));
        }
        return row;
    }

    private @Nullable Object gather(
            Expr.Call call, Clause.Per per, Map<String, Object> row, List<Map<String, Object>> members) {
        List<Expr> within = call.modifiers().within();
        List<Map<String, Object>> wide = members;
        if (within != null || call.name().equals("share")) {
            wide = new ArrayList<>(rows);
            for (Expr key : within == null ? List.<Expr>of() : within) {
                String name = ((Expr.Name) key).name();
                Assign how = per.keys().stream()
                        .filter(k -> k.name().equals(name))
                        .findFirst()
                        .orElseThrow();
                wide.removeIf(r -> compare(eval(how.value(), r), row.get(name), false) != 0);
            }
        }
        Expr only = call.modifiers().only();
        wide = sorted(wide, call.modifiers().along());
        if (call.name().equals("share")) {
            BigDecimal part = NaiveFigures.unrounded(values(call, members, only));
            return NaiveRow.divide(part, NaiveFigures.unrounded(values(call, wide, only)));
        }
        return NaiveFigures.figure(call.name(), values(call, wide, only));
    }
}
