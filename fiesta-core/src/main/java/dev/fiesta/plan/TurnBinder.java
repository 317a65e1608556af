package dev.fiesta.plan;

import dev.fiesta.compute.Types;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Ref;
import dev.fiesta.step.TurnStep;
import dev.fiesta.value.Field;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Objects;

/** Settles {@code turn}: fields that become rows. */
final class TurnBinder {
    private final TableBinding table;

    TurnBinder(TableBinding table) {
        this.table = table;
    }

    void turn(Clause.Turn clause) {
        Type type = Type.EMPTY;
        List<Integer> slots = new ArrayList<>();
        List<String> names = new ArrayList<>();
        for (Ref field : clause.fields()) {
            Scope.Seen seen = table.seen(field, "turn");
            if (names.contains(field.name())) {
                throw table.context.complaint(
                        field.at(),
                        "The field '" + field.name() + "' is named twice.",
                        "Its values would count twice.");
            }
            Type common = Types.common(type, seen.type());
            if (common == null) {
                throw table.context.complaint(
                        field.at(),
                        "'" + field.name() + "' is " + seen.type().withArticle() + ", the fields before it are " + type
                                + ".",
                        "Fields that become one column must be of one type.");
            }
            type = common;
            slots.add(seen.slot());
            names.add(field.name());
        }
        LinkedHashMap<String, Type> fields = new LinkedHashMap<>();
        List<Integer> kept = new ArrayList<>();
        for (Field field : table.scope.schema().fields()) {
            if (!names.contains(field.name())) {
                fields.put(field.name(), field.type());
                kept.add(Objects.requireNonNull(table.scope.find(field.name())).slot());
            }
        }
        for (Ref name : List.of(clause.name(), clause.value())) {
            if (fields.put(name.name(), name == clause.name() ? Type.TEXT : type) != null) {
                throw table.context.complaint(
                        name.at(), "There is a field '" + name.name() + "' already.", "Choose another name.");
            }
        }
        table.steps.add(new TurnStep(kept, slots, names, type, table.context.place(clause.at())));
        table.grouped = TableBinding.Grouped.NONE;
        table.restart(fields);
    }
}
