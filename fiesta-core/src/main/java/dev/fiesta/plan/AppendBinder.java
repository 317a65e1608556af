package dev.fiesta.plan;

import dev.fiesta.compute.Types;
import dev.fiesta.language.Clause;
import dev.fiesta.step.AppendStep;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Field;
import dev.fiesta.value.Type;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Objects;

/** Settles {@code append}: rows of other tables below, fields met by name. */
final class AppendBinder {
    private final TableBinding table;

    AppendBinder(TableBinding table) {
        this.table = table;
    }

    void append(Clause.Append clause) {
        List<TablePlan> others = clause.tables().stream().map(table.tables).toList();
        LinkedHashMap<String, Type> types = new LinkedHashMap<>();
        table.scope.schema().fields().forEach(f -> types.put(f.name(), f.type()));
        for (int t = 0; t < others.size(); t++) {
            for (Field field : others.get(t).schema().fields()) {
                Type had = types.getOrDefault(field.name(), Type.EMPTY);
                Type common = Types.common(had, field.type());
                if (common == null) {
                    throw table.context.complaint(
                            clause.tables().get(t).at(),
                            "'" + field.name() + "' is " + field.type().withArticle() + " in '"
                                    + others.get(t).name() + "', but " + had.withArticle() + " in the rows above.",
                            "Convert one of them with 'add' before.");
                }
                types.put(field.name(), common);
            }
        }
        List<String> names = List.copyOf(types.keySet());
        List<Integer> ours = names.stream()
                .map(n -> table.scope.find(n) == null
                        ? -1
                        : Objects.requireNonNull(table.scope.find(n)).slot())
                .toList();
        List<List<Integer>> theirs = others.stream()
                .map(o -> names.stream().map(n -> o.schema().indexOf(n)).toList())
                .toList();
        table.steps.add(
                new AppendStep(others, ours, theirs, List.copyOf(types.values()), table.context.place(clause.at())));
        table.grouped = TableBinding.Grouped.NONE;
        table.restart(types);
    }
}
