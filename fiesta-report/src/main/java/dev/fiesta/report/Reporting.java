package dev.fiesta.report;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.RunOptions;
import dev.fiesta.Tables;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Ref;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.Problem;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.content.Content;
import dev.fiesta.report.content.FilledTexts;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What a brief reports: which tables are worked out for it, and what becomes of them. Immutable.
 *
 * <pre>{@code
 * Reporting reporting = Reporting.of(brief);
 * Tables tables = reporting.check(fiesta);
 * Report report = reporting.run(tables, reporting.all(tables));
 * }</pre>
 */
public final class Reporting {
    private final Brief brief;
    private final BriefTree tree;

    private Reporting(Brief brief) {
        this.brief = brief;
        this.tree = brief.tree();
    }

    /**
     * {@return what a brief reports}
     *
     * @param brief the brief
     */
    public static Reporting of(Brief brief) {
        return new Reporting(brief);
    }

    /** {@return the brief} */
    public Brief brief() {
        return brief;
    }

    /**
     * Looks for problems: reads headers and types, calculates nothing.
     *
     * @param fiesta where it runs
     * @return the tables, ready to run
     * @throws BriefException with all problems
     * @throws dev.fiesta.problem.DataException when an input is not there
     */
    public Tables check(Fiesta fiesta) {
        Tables tables = brief.tables(fiesta);
        List<Problem> problems = problems(tables);
        if (!problems.isEmpty()) {
            throw new BriefException(problems);
        }
        return tables;
    }

    /**
     * {@return what is wrong with the report, piece by piece}
     *
     * @param tables the tables that it shows
     */
    public List<Problem> problems(Tables tables) {
        return ReportCheck.problems(tree, new ReportCheck.Known() {
            @Override
            public List<String> tables() {
                return tables.names();
            }

            @Override
            public List<String> fields(String table) {
                return tables.schema(table).names();
            }

            @Override
            public Set<String> parameters() {
                return tables.parameterNames();
            }
        });
    }

    List<BriefTree.Piece> pieces() {
        return tree.report() == null ? List.of() : tree.report();
    }

    /**
     * Adds the record of a run to the files of its folder.
     *
     * @param report the report
     * @param folder where the files of the run were {@link Report#writeTo(OutputFolder, List, boolean) written}
     * @param started when the run began
     * @param keep whether its tables are kept beside the record
     */
    public void record(Report report, OutputFolder folder, java.time.Instant started, boolean keep) {
        List<String> written = folder.names();
        RecordWriting record = new RecordWriting(brief, folder);
        record.asked(report.content().tables());
        record.inputs(
                report.content().tables(),
                report.outcome().records(),
                report.outcome().asides());
        record.tables(report, keep);
        report.results().values().stream().findFirst().ifPresent(r -> record.counted(r.notices()));
        record.files(written);
        record.write(started);
    }

    /**
     * Writes the record of a run that a check ended; nothing else of it is written.
     *
     * @param failure what failed
     * @param tables its tables
     * @param folder the folder
     * @param started when the run began
     */
    public void record(CheckException failure, Tables tables, OutputFolder folder, java.time.Instant started) {
        RecordWriting record = new RecordWriting(brief, folder);
        record.asked(tables);
        record.inputs(tables, Map.of(), Map.of());
        record.nothing();
        Notices notices = new Notices();
        notices.checked(failure.check());
        record.counted(notices);
        record.write(started);
    }

    /**
     * {@return runs the brief: the tables that the report shows, without a report those that no other table uses}
     *
     * @param fiesta where it runs
     */
    public Report run(Fiesta fiesta) {
        return run(fiesta, RunOptions.usual());
    }

    /**
     * {@return as {@link #run(Fiesta)}, with a timeout, a cancellation or a listener of its own}
     *
     * @param fiesta where it runs
     * @param options of this run
     */
    public Report run(Fiesta fiesta, RunOptions options) {
        return fiesta.stoppable(options, () -> {
            Tables tables = check(fiesta);
            List<String> wanted = wanted(tables);
            return report(tables, wanted, tables.runCounted(wanted, options));
        });
    }

    /**
     * {@return runs some of the tables of the brief, once {@link #check checked}}
     *
     * @param tables its tables
     * @param wanted the names of tables
     */
    public Report run(Tables tables, List<String> wanted) {
        return run(tables, new LinkedHashSet<>(wanted));
    }

    /**
     * {@return tables with this brief's parameters over the inputs of others, which are then read once for all; see {@link Tables#with}}
     *
     * @param others tables checked before
     * @param number its place
     */
    public Tables check(Tables others, int number) {
        return brief.tables(others, number);
    }

    /**
     * {@return the reports of several briefs that differ in their parameters only, with tables checked together}
     *
     * @param briefs what is reported
     * @param tables its tables
     * @param wanted the names of tables
     */
    public static List<Report> runTogether(List<Reporting> briefs, List<Tables> tables, List<String> wanted) {
        List<Tables.Outcome> outcomes = Tables.runTogether(tables, wanted);
        List<Report> reports = new ArrayList<>();
        for (int i = 0; i < briefs.size(); i++) {
            reports.add(briefs.get(i).report(tables.get(i), wanted, outcomes.get(i)));
        }
        return reports;
    }

    /**
     * {@return the tables that the report shows; without a report those that no other table uses}
     *
     * @param tables its tables
     * @throws RequestException when the brief has neither
     */
    public List<String> wanted(Tables tables) {
        refuseNone(tables);
        return pieces().isEmpty() ? tables.unused() : List.copyOf(shown(tables));
    }

    /**
     * {@return runs the brief for data formats: every table that is worth a file, and those the report shows}
     *
     * @param fiesta where it runs
     */
    public Report runAll(Fiesta fiesta) {
        Tables tables = check(fiesta);
        return run(tables, all(tables));
    }

    /** Of some tables those that data formats write: all but records that are only drawn. */
    private Set<String> data(Tables tables, List<String> wanted) {
        Set<String> data = new LinkedHashSet<>(wanted);
        if (!wanted.containsAll(all(tables)) && !wanted.equals(wanted(tables))) {
            return data; // chosen by name
        }
        Set<String> read = new LinkedHashSet<>();
        Set<String> drawn = new LinkedHashSet<>();
        for (BriefTree.Piece piece : pieces()) {
            Ref table = piece.table();
            if (table != null) {
                (piece instanceof BriefTree.Chart ? drawn : read).add(table.name());
            }
        }
        drawn.removeAll(read);
        drawn.removeIf(tables::isGrouped);
        data.removeAll(drawn);
        return data;
    }

    /**
     * {@return every table that is worth a file, and those the report shows}
     *
     * @param tables its tables
     * @throws RequestException when the brief has neither
     */
    public List<String> all(Tables tables) {
        refuseNone(tables);
        Set<String> wanted = new LinkedHashSet<>(tables.outputs());
        wanted.addAll(shown(tables));
        return List.copyOf(wanted);
    }

    private void refuseNone(Tables tables) {
        if (pieces().isEmpty() && tables.names().isEmpty()) {
            throw new RequestException("'" + brief.name()
                    + "' has no table, so there is nothing to work out. Write one: table NAME from INPUT …");
        }
    }

    /**
     * Runs the brief for some of its tables only.
     *
     * @param fiesta where it runs
     * @param only the names of tables
     * @return the report
     * @throws RequestException when it has no such table
     */
    public Report run(Fiesta fiesta, List<String> only) {
        Tables tables = check(fiesta);
        refuseUnknown(tables, only);
        return run(tables, only);
    }

    /**
     * @param tables its tables
     * @param names of tables
     * @throws RequestException when one of the names is that of no table
     */
    public static void refuseUnknown(Tables tables, List<String> names) {
        for (String name : names) {
            if (!tables.names().contains(name)) {
                throw new RequestException(
                        "The brief has no table '" + name + "'. " + Names.didYouMean(name, tables.names(), "It has"));
            }
        }
    }

    private Set<String> shown(Tables tables) {
        Set<String> wanted = new LinkedHashSet<>();
        for (BriefTree.Piece piece : pieces()) {
            Ref table = piece.table();
            if (table != null) {
                wanted.add(table.name());
                tables.courses(table.name()).forEach(c -> wanted.add(c.table()));
            }
            FilledTexts.tables(piece).stream().filter(tables.names()::contains).forEach(wanted::add);
        }
        return wanted;
    }

    private Report run(Tables tables, Set<String> wanted) {
        return report(tables, List.copyOf(wanted), tables.runCounted(List.copyOf(wanted)));
    }

    private Report report(Tables tables, List<String> wanted, Tables.Outcome outcome) {
        boolean whole = wanted.containsAll(wanted(tables));
        List<BriefTree.Piece> pieces = whole ? pieces() : piecesOf(wanted, tables);
        return new Report(new Content(brief.title(), tree.settings(), data(tables, wanted), pieces, tables, outcome));
    }

    /** What a report says of some of its tables: what speaks of others goes, and so do headings under which nothing is left. */
    private List<BriefTree.Piece> piecesOf(List<String> wanted, Tables tables) {
        List<BriefTree.Piece> kept = new ArrayList<>();
        for (BriefTree.Piece piece : pieces()) {
            Ref table = piece.table();
            boolean spoken = FilledTexts.tables(piece).stream()
                    .allMatch(t -> wanted.contains(t) || !tables.names().contains(t));
            if (spoken && (table == null || wanted.contains(table.name()))) {
                kept.add(piece);
            }
        }
        List<BriefTree.Piece> all = new ArrayList<>();
        for (int i = 0; i < kept.size(); i++) {
            boolean empty = i + 1 == kept.size() || kept.get(i + 1) instanceof BriefTree.Heading;
            if (!(kept.get(i) instanceof BriefTree.Heading) || !empty) {
                all.add(kept.get(i));
            }
        }
        return all;
    }
}
