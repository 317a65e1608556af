package dev.fiesta.trace;

import dev.fiesta.language.Clause;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.RequestException;
import dev.fiesta.step.TablePlan;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.IntFunction;
import java.util.stream.IntStream;

/** What is asked about a table of a brief, besides its rows: told so that everybody plans the same tables for it. */
public sealed interface Question {
    /**
     * {@return the tables that answer it, always in the same order}
     *
     * @param from the briefs
     * @throws RequestException when there is no such table, or it has nothing of the kind
     */
    List<TablePlan> plans(Planned from);

    /**
     * The records behind a row, see {@link BehindPlan}.
     *
     * @param keys values of keys as texts
     */
    record Records(String table, Map<String, String> keys, BehindPlan.Part part) implements Question {
        @Override
        public List<TablePlan> plans(Planned from) {
            return found(from).plans();
        }

        /** {@return these, each told by what it is} */
        public BehindPlan.Found found(Planned from) {
            return new BehindPlan(from).found(table, keys, part);
        }
    }

    /**
     * The first records of each row; no table where rows are records themselves.
     *
     * @param most of a row
     */
    record Samples(String table, int most) implements Question {
        @Override
        public List<TablePlan> plans(Planned from) {
            TablePlan samples = new BehindPlan(from).samples(table, most);
            return samples == null ? List.of() : List.of(samples);
        }
    }

    /** The rows in the frame of a moving figure, see {@link FramePlan}. */
    record Frame(String table, String figure) implements Question {
        @Override
        public List<TablePlan> plans(Planned from) {
            return List.of(new FramePlan(rowsOf(table, from), from).of(figure));
        }
    }

    /** The groups of a table with what a figure is made of, see {@link FigurePair}. */
    record Made(String table, String figure) implements Question {
        @Override
        public List<TablePlan> plans(Planned from) {
            Definition of = rowsOf(table, from);
            List<Clause> clauses = of.table().clauses();
            return List.of(from.like(of, table, pair(from).beside(table, clauses), from.plans()));
        }

        /** {@return what it is made of} */
        public FigurePair pair(Planned from) {
            Definition of = rowsOf(table, from);
            List<String> names =
                    Objects.requireNonNull(from.plans().get(table)).schema().names();
            if (!names.contains(figure)) {
                throw new RequestException(
                        "'" + table + "' has no figure '" + figure + "'. " + Names.didYouMean(figure, names, "It has"));
            }
            return FigurePair.of(table, figure, of.table().clauses());
        }
    }

    /**
     * The first rows of a table as each of its clauses leaves it, from some clause on.
     *
     * @param first how many clauses there are at least
     * @param rows how many rows of each
     */
    record Steps(String table, int first, int rows) implements Question {
        @Override
        public List<TablePlan> plans(Planned from) {
            Definition of = from.definition(table);
            if (of == null) {
                throw new RequestException("there is no table '" + table + "'");
            }
            List<Clause> clauses = of.table().clauses();
            return upTo(
                    Objects.requireNonNull(from.plans().get(table)),
                    first,
                    rows,
                    count -> from.like(of, table, clauses.subList(0, count), from.plans()));
        }

        /**
         * {@return the first rows of a table with some of its clauses}
         *
         * @param clauses the table with so many of them
         */
        public static List<TablePlan> upTo(TablePlan whole, int first, int rows, IntFunction<TablePlan> clauses) {
            int all = whole.written().size();
            return IntStream.rangeClosed(first, all)
                    .mapToObj(i ->
                            (i == all ? whole : clauses.apply(i)).firstRows(whole.name() + TablePlan.HIDDEN + i, rows))
                    .toList();
        }
    }

    private static Definition rowsOf(String table, Planned from) {
        Definition where = from.definition(table);
        if (where == null) {
            throw new RequestException("'" + table + "' is an input, and its rows are records.");
        }
        return where;
    }
}
