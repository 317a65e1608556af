package dev.fiesta.plan;

import dev.fiesta.compute.Expression;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Formats;
import dev.fiesta.language.Op;
import dev.fiesta.language.Ref;
import dev.fiesta.problem.Names;
import dev.fiesta.step.Assignment;
import dev.fiesta.step.ShownColumns;
import dev.fiesta.step.TablePlan;
import dev.fiesta.step.TablePlan.ViewColumn;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Settles {@code columns}: which fields are shown, and which figures are marked as resting on few records. */
final class ColumnsBinder {
    private final TableBinding table;
    /** A field that something is said of where a slot is true. */
    private record Said(String field, int slot, TablePlan.Mark.Says says, String note) {}

    private final List<Said> said = new ArrayList<>();
    private final List<TablePlan.Course> courses = new ArrayList<>();

    ColumnsBinder(TableBinding table) {
        this.table = table;
    }

    List<TablePlan.Course> courses() {
        return courses;
    }

    /** What is said of fields in some rows. */
    List<TablePlan.Mark> marks() {
        return said.stream()
                .map(s -> new TablePlan.Mark(table.scope.names().indexOf(s.field), s.slot, s.says, s.note))
                .toList();
    }

    /** What is shown; of a cross-tabulation whose columns come from the data, nothing yet. */
    @Nullable
    List<ViewColumn> view(Clause.Columns clause) {
        if (table.crossed != null) {
            clause.courses()
                    .forEach(c -> table.context.attempt(() -> {
                        throw table.context.complaint(
                                c.at(),
                                "A course stands beside groups, and 'against' lays these out.",
                                "Leave 'against' away.");
                    }));
            if (!table.scope.hasColumnsFromData()) {
                shownColumns(clause);
            }
            for (Clause.Shown column : clause.columns()) {
                Clause.FieldPattern field = column.field();
                if (!column.notes().isEmpty()) {
                    table.context.attempt(() -> {
                        throw table.context.complaint(
                                column.notes().get(0).at(),
                                "Cells that are laid out by 'against' have no notes.",
                                "Put the note under the table: table NAME note '…'");
                    });
                }
                if (table.scope.hasColumnsFromData() && !field.pattern() && !field.others()) {
                    table.context.attempt(() -> table.seen(field.name(), "columns"));
                }
            }
            return null;
        }
        List<ViewColumn> view = shownColumns(clause);
        for (Clause.Course course : clause.courses()) {
            int place = new ShownColumns(clause.columns().subList(0, course.before()), table.scope.names())
                    .view()
                    .size();
            table.context.attempt(() -> courses.add(course(course, place)));
        }
        for (Clause.Shown column : clause.columns()) {
            table.context.attempt(() -> markFew(column));
            table.context.attempt(() -> column.notes().forEach(n -> note(column, n)));
        }
        return view;
    }

    /** The entries written out; a name that is not there is complained about. */
    private List<ViewColumn> shownColumns(Clause.Columns clause) {
        for (Clause.Shown column : clause.columns()) {
            Clause.FieldPattern field = column.field();
            table.context.attempt(() -> {
                if (field.pattern() || field.others()) {
                    return;
                }
                table.seen(field.name(), "columns");
                if (field.to() != null) {
                    table.seen(field.to(), "columns");
                }
            });
        }
        List<String> all = table.crossed == null ? table.scope.names() : table.scope.reachable();
        ShownColumns columns = new ShownColumns(clause.columns(), all);
        columns.wrong()
                .forEach(w -> table.context.attempt(() -> {
                    throw table.context.complaint(w.field().name().at(), w.message(), w.suggestion());
                }));
        return columns.view();
    }

    /** Which rows of the other table belong to a row must be told by its keys but for the one that it runs along. */
    private TablePlan.Course course(Clause.Course course, int place) {
        TablePlan other = table.tables.apply(course.table());
        for (Ref field : List.of(course.field(), course.along())) {
            if (!other.schema().names().contains(field.name())) {
                throw table.context.complaint(
                        field.at(),
                        "'" + other.shownName() + "' has no field '" + field.name() + "'.",
                        Names.didYouMean(field.name(), other.schema().names(), "It has"));
            }
        }
        if (!other.type(course.field().name()).isNumeric()) {
            throw table.context.complaint(
                    course.field().at(),
                    "A course is drawn of numbers, and '" + course.field().name() + "' is "
                            + other.type(course.field().name()).withArticle() + ".",
                    null);
        }
        List<String> theirs = other.levels().keys();
        List<String> ours = table.scope.level().keys();
        if (theirs == null || ours == null || !theirs.contains(course.along().name())) {
            throw table.context.complaint(
                    course.along().at(),
                    "A course runs along a key of groups, beside groups.",
                    "Both tables have a 'per', and '" + course.along().name() + "' is a key of '" + other.shownName()
                            + "'.");
        }
        List<String> keys =
                theirs.stream().filter(k -> !k.equals(course.along().name())).toList();
        List<String> on = course.on().stream().map(Ref::name).toList();
        List<String> lacking = keys.stream().filter(k -> !ours.contains(k)).toList();
        if (!lacking.isEmpty()) {
            throw table.context.complaint(
                    course.at(),
                    "Rows of '" + other.shownName() + "' are told apart by '" + String.join("', '", lacking)
                            + "' too, which is no key here, so there is no one course beside a row.",
                    "Take the course of a table that is grouped by " + String.join(", ", ours) + " and "
                            + course.along().name() + ".");
        }
        if (on.isEmpty() ? keys.size() < ours.size() : !Set.copyOf(on).equals(Set.copyOf(keys))) {
            throw table.context.complaint(
                    course.at(),
                    "The rows of '" + other.shownName() + "' are those of '" + String.join("', '", keys) + "', not of '"
                            + String.join("', '", ours) + "'.",
                    "Say by which keys they belong: on " + String.join(", ", keys));
        }
        return new TablePlan.Course(
                other.shownName(), course.field().name(), course.along().name(), keys, course.title(), place);
    }

    static boolean marksFew(Clause.Columns clause) {
        return clause.columns().stream().anyMatch(c -> fewest(c) != null);
    }

    private static @Nullable String fewest(Clause.Shown column) {
        return column.formats().stream()
                .filter(f -> f.name().equals(Formats.MARK_FEW))
                .map(Clause.Format::argument)
                .findFirst()
                .orElse(null);
    }

    /** A slot that is true where a group has fewer records than wanted. */
    private void markFew(Clause.Shown column) {
        String fewest = fewest(column);
        if (fewest == null) {
            return;
        }
        Ref name = column.field().name();
        if (table.scope.find(GroupBinder.RECORDS) == null) {
            throw table.context.complaint(
                    name.at(),
                    "'mark few' needs to know how many records a group has, and no 'per' of this table makes groups.",
                    "Put 'columns' into the table that groups.");
        }
        Expr records = new Expr.Name(GroupBinder.RECORDS, name.at());
        Expr least = new Expr.Literal(Type.INTEGER, Long.valueOf(fewest), name.at());
        Expression isFew = table.row("columns", new Expr.Binary(Op.LESS, records, least, name.at()), true);
        say(column, isFew, TablePlan.Mark.Says.FEW, "");
    }

    private void note(Clause.Shown column, Clause.CellNote note) {
        Expr where = note.where() == null ? new Expr.Literal(Type.TRUTH, true, note.at()) : note.where();
        say(column, table.row("columns", where, true), TablePlan.Mark.Says.NOTE, note.text());
    }

    /** Works out where something is said of the fields of an entry. */
    private void say(Clause.Shown column, Expression where, TablePlan.Mark.Says says, String note) {
        int slot = table.scope.newSlot();
        table.steps.compute(new Assignment(slot, "columns", where));
        for (String field : new ShownColumns(List.of(column), table.scope.names()).fields()) {
            said.add(new Said(field, slot, says, note));
        }
    }
}
