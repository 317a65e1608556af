package dev.fiesta.step;

import dev.fiesta.language.Clause;
import dev.fiesta.problem.Names;
import dev.fiesta.step.TablePlan.ViewColumn;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The entries of {@code columns} written out over the fields that there are; names that are not there stand for nothing. */
public final class ShownColumns {
    /** An entry that cannot be right. */
    public record Wrong(
            Clause.FieldPattern field,
            String message,
            @Nullable CharSequence suggestion) {}

    private final List<ViewColumn> view = new ArrayList<>();
    private final List<Wrong> wrong = new ArrayList<>();
    private final List<String> all;

    public ShownColumns(List<Clause.Shown> shown, List<String> all) {
        this.all = all;
        Set<String> named = new LinkedHashSet<>();
        for (Clause.Shown column : shown) {
            if (!column.field().others()) {
                named.addAll(fields(column.field(), Set.of()));
            }
        }
        wrong.clear();
        Set<String> met = new LinkedHashSet<>();
        for (Clause.Shown column : shown) {
            for (String field : fields(column.field(), named)) {
                if (met.add(field)) {
                    view.add(new ViewColumn(field, column.title(), column.formats()));
                } else {
                    wrong.add(new Wrong(column.field(), "The column '" + field + "' is named twice.", null));
                }
            }
        }
    }

    /** The columns, in their order. */
    public List<ViewColumn> view() {
        return view;
    }

    /** The fields shown, in their order. */
    public List<String> fields() {
        return view.stream().map(ViewColumn::field).toList();
    }

    public List<Wrong> wrong() {
        return wrong;
    }

    private List<String> fields(Clause.FieldPattern pattern, Set<String> named) {
        String name = pattern.name().name();
        if (pattern.others()) {
            return all.stream().filter(n -> !named.contains(n)).toList();
        }
        if (pattern.pattern()) {
            List<String> found =
                    all.stream().filter(n -> Globs.matches(name, n)).toList();
            if (found.isEmpty()) {
                wrong.add(
                        new Wrong(pattern, "No field fits '" + name + "'.", Names.didYouMean(name, all, "There are")));
            }
            return found;
        }
        int from = all.indexOf(name);
        int to = pattern.to() == null ? from : all.indexOf(pattern.to().name());
        if (from < 0 || to < 0) {
            return List.of();
        }
        if (from > to) {
            wrong.add(new Wrong(
                    pattern,
                    "'" + java.util.Objects.requireNonNull(pattern.to()).name() + "' stands before '" + name + "'.",
                    null));
            return List.of();
        }
        return all.subList(from, to + 1);
    }
}
