package dev.fiesta.oracle;

import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Predicate;

/** A cross-tabulation of one figure by one key, worked out cell by cell from the records. */
final class NaiveCross {
    private final Clause.Per per;
    private final Clause.Against against;
    private final Assign figure;
    private final List<Map<String, Object>> records;
    /** The columns by their names, each with the records that belong into it. */
    private final Map<String, Predicate<Map<String, Object>>> columns = new LinkedHashMap<>();

    NaiveCross(Clause.Per per, List<Map<String, Object>> all) {
        this.per = per;
        this.against = per.against().get(0);
        this.figure = ((Clause.Single) per.figures().get(0)).figure();
        List<Object> fixed = against.choices() == null
                ? null
                : against.choices().stream().map(c -> Naive.eval(c, Map.of())).toList();
        this.records = fixed == null || against.rest() != null
                ? all
                : all.stream().filter(r -> among(fixed, column(r))).toList();
        if (fixed == null) {
            TreeMap<List<Object>, Boolean> met = new TreeMap<>(NaiveGroups::compareKeys);
            all.forEach(r -> met.put(single(column(r)), true));
            met.keySet().forEach(v -> columns.put(name(v.get(0)), r -> same(column(r), v.get(0))));
        } else {
            fixed.forEach(v -> columns.put(name(v), r -> same(column(r), v)));
            if (against.rest() != null) {
                columns.put(against.rest(), r -> !among(fixed, column(r)));
            }
        }
    }

    private static List<Object> single(Object value) {
        List<Object> list = new ArrayList<>();
        list.add(value);
        return list;
    }

    private Object column(Map<String, Object> record) {
        return Naive.eval(against.key().value(), record);
    }

    private static boolean same(Object a, Object b) {
        return Naive.compare(a, b, false) == 0;
    }

    private static boolean among(List<Object> values, Object value) {
        return values.stream().anyMatch(v -> same(v, value));
    }

    private static String name(Object value) {
        return value == null ? "(missing)" : value instanceof BigDecimal d ? d.toPlainString() : value.toString();
    }

    /** @param totals whether each row has its total */
    List<Map<String, Object>> rows(boolean totals) {
        TreeMap<List<Object>, List<Map<String, Object>>> groups = NaiveGroups.byKeys(per, records);
        List<Map<String, Object>> rows = new ArrayList<>();
        groups.forEach((key, members) -> {
            Map<String, Object> row = new LinkedHashMap<>();
            for (int i = 0; i < key.size(); i++) {
                row.put(per.keys().get(i).name(), key.get(i));
            }
            rows.add(cells(row, members, totals, false));
        });
        return rows;
    }

    /** The row below all others. */
    Map<String, Object> total() {
        Map<String, Object> row = new LinkedHashMap<>();
        per.keys().forEach(k -> row.put(k.name(), null));
        return cells(row, records, true, true);
    }

    private Map<String, Object> cells(
            Map<String, Object> row, List<Map<String, Object>> members, boolean totals, boolean below) {
        columns.forEach((name, belongs) ->
                row.put(name, cell(members.stream().filter(belongs).toList(), below)));
        if (totals) {
            row.put("Total", cell(members, true));
        }
        return row;
    }

    /** @param total whether it is a total, which shows counts of nothing as 0 */
    private Object cell(List<Map<String, Object>> members, boolean total) {
        Clause.Per whole = new Clause.Per(List.of(), List.of(), per.figures(), true, per.giveAt(), per.at());
        NaiveGroups one = new NaiveGroups(whole, members);
        Object value = one.rows().get(0).get(figure.name());
        if (!members.isEmpty()) {
            return value;
        }
        boolean zero = against.with() != null && one.additive().contains(figure.name());
        return zero ? BigDecimal.ZERO : total ? value : null;
    }
}
