package dev.fiesta.report;

import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Ref;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Problem;
import dev.fiesta.report.content.FilledTexts;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Set;

/** Whether the pieces of a report name what is there. */
public final class ReportCheck {
    /** What pieces may name. */
    public interface Known {
        /** {@return the names of the tables} */
        Collection<String> tables();

        /**
         * {@return the fields of a table}
         *
         * @param table its name
         */
        List<String> fields(String table);

        /** {@return the names of the parameters} */
        Set<String> parameters();
    }

    private final BriefTree tree;
    private final Known known;
    private final List<Problem> problems = new ArrayList<>();

    private ReportCheck(BriefTree tree, Known known) {
        this.tree = tree;
        this.known = known;
    }

    /**
     * {@return what is wrong with the report of a brief, piece by piece}
     *
     * @param tree the brief
     * @param known what is there
     */
    public static List<Problem> problems(BriefTree tree, Known known) {
        ReportCheck check = new ReportCheck(tree, known);
        if (tree.report() != null) {
            tree.report().forEach(check::piece);
            tree.report().forEach(check::texts);
        }
        return check.problems;
    }

    private void texts(BriefTree.Piece piece) {
        for (String text : piece.texts()) {
            FilledTexts.unknown(text, known.parameters(), t -> known.tables().contains(t) ? known.fields(t) : null)
                    .forEach(message -> problems.add(tree.source().problem(piece.at(), message, null)));
        }
    }

    private void piece(BriefTree.Piece piece) {
        Ref table = piece.table();
        if (table == null) {
            return;
        }
        if (!known.tables().contains(table.name())) {
            problems.add(noTable(table));
            return;
        }
        piece.fields().forEach(field -> field(table, field));
        for (BriefTree.Marker line : piece.lines()) {
            if (line.table() != null && line.field() != null) {
                field(line.table(), line.field());
            }
            Ref parameter = line.parameter();
            if (parameter != null && !known.parameters().contains(parameter.name())) {
                problems.add(tree.source()
                        .problem(
                                parameter.at(),
                                "There is no parameter '" + parameter.name() + "'.",
                                Names.didYouMean(parameter.name(), known.parameters(), "There are")));
            }
        }
    }

    private void field(Ref table, Ref field) {
        if (!known.tables().contains(table.name())) {
            problems.add(noTable(table));
            return;
        }
        List<String> fields = known.fields(table.name());
        if (!fields.contains(field.name())) {
            problems.add(tree.source()
                    .problem(
                            field.at(),
                            "'" + table.name() + "' has no field '" + field.name() + "'.",
                            Names.didYouMean(field.name(), fields, "It has")));
        }
    }

    private Problem noTable(Ref table) {
        return tree.source()
                .problem(
                        table.at(),
                        "There is no table '" + table.name() + "'.",
                        Names.didYouMean(table.name(), known.tables(), "There are"));
    }
}
