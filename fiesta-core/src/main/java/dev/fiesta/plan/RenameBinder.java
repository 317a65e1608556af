package dev.fiesta.plan;

import dev.fiesta.language.Clause;
import java.util.HashMap;
import java.util.Map;

/** Settles {@code rename}: other names, each given once. */
final class RenameBinder {
    private final TableBinding table;

    RenameBinder(TableBinding table) {
        this.table = table;
    }

    void rename(Clause.Rename clause) {
        Map<String, String> names = new HashMap<>();
        for (Clause.Brought pair : clause.names()) {
            table.seen(pair.field(), "rename");
            boolean taken = table.scope.find(pair.as()) != null
                    && clause.names().stream().noneMatch(p -> p.field().name().equals(pair.as()));
            if (taken || names.containsValue(pair.as())) {
                throw table.context.complaint(
                        pair.field().at(),
                        "There would be two fields '" + pair.as() + "'.",
                        "Rename or drop the other first.");
            }
            if (names.put(pair.field().name(), pair.as()) != null) {
                throw table.context.complaint(
                        pair.field().at(), "The field '" + pair.field().name() + "' is named twice.", null);
            }
        }
        table.scope.rename(names);
    }
}
