package dev.fiesta.oracle;

import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Nodes;
import dev.fiesta.language.Op;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** What is known of the last grouping: the records behind each row, and how rows are worked out from merged records. */
final class NaiveGroups {
    private final Clause.Per per;
    private final List<Map<String, Object>> records;
    private final Map<Map<String, Object>, List<Map<String, Object>>> behind = new IdentityHashMap<>();
    /** The clauses since that make, rename and drop fields. */
    private final List<Clause> since = new ArrayList<>();

    private boolean zeros;

    NaiveGroups(Clause.Per per, List<Map<String, Object>> records) {
        this.per = per;
        this.records = records;
    }

    /** The records of each combination of keys. */
    static TreeMap<List<Object>, List<Map<String, Object>>> byKeys(Clause.Per per, List<Map<String, Object>> records) {
        TreeMap<List<Object>, List<Map<String, Object>>> groups = new TreeMap<>(NaiveGroups::compareKeys);
        for (Map<String, Object> record : records) {
            List<Object> key = new ArrayList<>();
            per.keys().forEach(k -> key.add(Naive.eval(k.value(), record)));
            groups.computeIfAbsent(key, k -> new ArrayList<>()).add(record);
        }
        return groups;
    }

    /** The groups by their keys, missing keys last. */
    List<Map<String, Object>> rows() {
        TreeMap<List<Object>, List<Map<String, Object>>> groups = byKeys(per, records);
        if (per.keys().isEmpty()) {
            groups.putIfAbsent(List.of(), new ArrayList<>());
        }
        List<Map<String, Object>> rows = new ArrayList<>();
        groups.forEach((key, members) -> {
            Map<String, Object> known = new HashMap<>();
            for (int i = 0; i < key.size(); i++) {
                known.put(per.keys().get(i).name(), key.get(i));
            }
            Map<String, Object> row = figures(known, members);
            behind.put(row, members);
            rows.add(row);
        });
        return rows;
    }

    static int compareKeys(List<Object> a, List<Object> b) {
        int sign = 0;
        for (int i = 0; i < a.size() && sign == 0; i++) {
            sign = Naive.compare(a.get(i), b.get(i), false);
        }
        return sign;
    }

    /** A clause that stands behind the grouping. */
    void then(Clause clause) {
        since.add(clause);
        if (clause instanceof Clause.Gapless gapless && gapless.with() != null) {
            zeros = true;
        }
    }

    /** A row that stands for records: a rest, or a period without any. */
    void stand(Map<String, Object> row, List<Map<String, Object>> members) {
        behind.put(row, members);
    }

    /** The records behind rows, in their own order. */
    List<Map<String, Object>> behind(List<Map<String, Object>> rows) {
        Map<Map<String, Object>, Boolean> members = new IdentityHashMap<>();
        rows.forEach(r -> behind.getOrDefault(r, List.of()).forEach(m -> members.put(m, true)));
        return records.stream().filter(members::containsKey).toList();
    }

    List<String> keys() {
        return per.keys().stream().map(Assign::name).toList();
    }

    /** The figures that show 0 where there is nothing, by the names that they have now. */
    Set<String> additive() {
        Set<String> names = madeAdditive();
        for (Clause clause : since) {
            if (clause instanceof Clause.Rename rename) {
                rename.names().forEach(p -> {
                    if (names.remove(p.field().name())) {
                        names.add(p.as());
                    }
                });
            } else if (clause instanceof Clause.Fill fill) {
                fill.fields().forEach(f -> names.remove(f.name())); // a field of its own from here on
            } else if (clause instanceof Clause.Add add) {
                add.fields().forEach(f -> names.remove(f.name()));
            }
        }
        return names;
    }

    private Set<String> madeAdditive() {
        Set<String> names = new HashSet<>();
        per.figures().forEach(f -> {
            Assign figure = ((Clause.Single) f).figure();
            if (addsUp(figure.value(), names)) {
                names.add(figure.name());
            }
        });
        return names;
    }

    private static boolean addsUp(Expr expr, Set<String> known) {
        if (expr instanceof Expr.Call call) {
            return Set.of("sum", "count", "count_if", "count_distinct").contains(call.name())
                    && call.modifiers().within() == null;
        }
        if (expr instanceof Expr.Binary binary && (binary.op() == Op.PLUS || binary.op() == Op.MINUS)) {
            return addsUp(binary.left(), known) && addsUp(binary.right(), known);
        }
        return expr instanceof Expr.Name name && known.contains(name.name());
    }

    /** @param known the keys that the row has; others are missing */
    private Map<String, Object> figures(Map<String, Object> known, List<Map<String, Object>> members) {
        Map<String, Object> row = new LinkedHashMap<>();
        per.keys().forEach(k -> row.put(k.name(), known.get(k.name())));
        for (Clause.Figure figure : per.figures()) {
            Assign assign = ((Clause.Single) figure).figure();
            row.put(assign.name(), new NaiveRow(row, call -> gather(call, known, members)).eval(assign.value()));
        }
        return row;
    }

    private @Nullable Object gather(Expr.Call call, Map<String, Object> known, List<Map<String, Object>> members) {
        List<Expr> within = call.modifiers().within();
        List<Map<String, Object>> wide = members;
        if (within != null || call.name().equals("share")) {
            wide = new ArrayList<>(records);
            for (Expr key : within == null ? List.<Expr>of() : within) {
                String name = ((Expr.Name) key).name();
                if (!known.containsKey(name)) {
                    return null;
                }
                Assign how = per.keys().stream()
                        .filter(k -> k.name().equals(name))
                        .findFirst()
                        .orElseThrow();
                wide.removeIf(r -> Naive.compare(Naive.eval(how.value(), r), known.get(name), false) != 0);
            }
        }
        Expr only = call.modifiers().only();
        wide = Naive.sorted(wide, call.modifiers().along());
        if (call.name().equals("share")) {
            BigDecimal part = NaiveFigures.unrounded(Naive.values(call, members, only));
            return NaiveRow.divide(part, NaiveFigures.unrounded(Naive.values(call, wide, only)));
        }
        return NaiveFigures.figure(call.name(), Naive.values(call, wide, only));
    }

    /**
     * A row worked out from the records behind several: a total, or a rest.
     *
     * @param known the keys that it has
     */
    Map<String, Object> merged(Map<String, Object> known, List<Map<String, Object>> members) {
        Map<String, Object> row = figures(known, members);
        if (zeros && members.isEmpty()) {
            madeAdditive().forEach(name -> row.putIfAbsent(name, BigDecimal.ZERO));
        }
        Set<String> walked = new HashSet<>();
        for (Clause clause : since) {
            if (clause instanceof Clause.Add add) {
                for (Assign field : add.fields()) {
                    boolean missing = looksAtRows(field.value(), walked);
                    row.put(field.name(), missing ? null : Naive.eval(field.value(), row));
                    if (missing) {
                        walked.add(field.name());
                    } else {
                        walked.remove(field.name());
                    }
                }
            } else if (clause instanceof Clause.Fill fill) {
                fill.fields().forEach(f -> {
                    row.put(f.name(), null);
                    walked.add(f.name());
                });
            } else if (clause instanceof Clause.Match match) {
                match.bring().forEach(b -> {
                    row.put(b.as(), null);
                    walked.add(b.as());
                });
            } else if (clause instanceof Clause.Rename rename) {
                Map<String, Object> renamed = Naive.renamed(rename, row);
                rename.names().forEach(p -> {
                    if (walked.remove(p.field().name())) {
                        walked.add(p.as());
                    }
                });
                row.clear();
                row.putAll(renamed);
            } else if (clause instanceof Clause.Drop drop) {
                drop.fields().forEach(f -> row.remove(f.name()));
            }
        }
        return row;
    }

    /** Whether a value depends on other rows, itself or through a field that does. */
    private static boolean looksAtRows(Expr expr, Set<String> walked) {
        boolean[] found = {false};
        Nodes.each(expr, node -> {
            found[0] |= node instanceof Expr.Call call
                    && (NaiveWalks.NAMES.contains(call.name()) || NaiveFigures.NAMES.contains(call.name()));
            found[0] |= node instanceof Expr.Name name && walked.contains(name.name());
        });
        return found[0];
    }
}
