package dev.fiesta.report;

import dev.fiesta.Fiesta;
import dev.fiesta.Tables;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.language.Ref;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.Problem;
import dev.fiesta.problem.RequestException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * A brief, parsed, with values for its parameters. Immutable.
 *
 * <pre>{@code
 * Report report = Brief.read(Path.of("takings.brief")).set("from_day", LocalDate.of(2026, 5, 1)).run(fiesta);
 * report.writeTo(Path.of("out"), Format.HTML, Format.CSV);
 * }</pre>
 */
public final class Brief {
    private final dev.fiesta.language.BriefTree tree;
    private final List<Tables.Placed> parts;
    private final Map<String, Object> parameters;

    /** @param parts the briefs used, those used by others before them, the brief itself last */
    private Brief(List<Tables.Placed> parts, Map<String, Object> parameters) {
        this.tree = parts.get(parts.size() - 1).brief();
        this.parts = List.copyOf(parts);
        this.parameters = parameters;
    }

    /**
     * Reads a brief; its paths start in its folder.
     *
     * @throws BriefException when it cannot be right
     * @throws RequestException when there is no such file
     * @throws dev.fiesta.problem.MachineException when it cannot be read
     */
    public static Brief read(Path file) {
        return of(
                file.getFileName().toString(),
                BriefFile.read(file),
                file.toAbsolutePath().getParent());
    }

    /** A brief from a text; {@code name} is what problems call it. */
    public static Brief of(String name, String text, Path folder) {
        dev.fiesta.language.BriefTree tree = Parser.brief(new BriefText(name, text));
        Map<Path, Tables.Placed> parts = new LinkedHashMap<>();
        Set<Path> open = new LinkedHashSet<>();
        open.add(folder.resolve(name).toAbsolutePath().normalize());
        use(tree, folder, open, parts);
        List<Tables.Placed> all = new ArrayList<>(parts.values());
        all.add(new Tables.Placed(tree, folder));
        return new Brief(all, Map.of());
    }

    /** Reads the briefs that one uses, and those that they use, each once. */
    private static void use(
            dev.fiesta.language.BriefTree brief, Path folder, Set<Path> open, Map<Path, Tables.Placed> parts) {
        for (dev.fiesta.language.BriefTree.Use use : brief.uses()) {
            Path file = folder.resolve(use.path()).toAbsolutePath().normalize();
            if (!open.add(file)) {
                throw problem(brief, use, "'" + use.path() + "' uses this brief, so neither can come first.", null);
            }
            if (!Files.isRegularFile(file)) {
                throw problem(brief, use, "There is no brief '" + use.path() + "'.", "Paths start in this folder.");
            }
            if (!parts.containsKey(file)) {
                BriefText text = new BriefText(use.path(), BriefFile.read(file));
                dev.fiesta.language.BriefTree used = Parser.brief(text);
                use(used, file.getParent(), open, parts);
                parts.put(file, new Tables.Placed(used, file.getParent()));
            }
            open.remove(file);
        }
    }

    private static BriefException problem(
            dev.fiesta.language.BriefTree brief,
            dev.fiesta.language.BriefTree.Use use,
            String message,
            @Nullable String suggestion) {
        return new BriefException(List.of(brief.source().problem(use.at(), message, suggestion)));
    }

    /** This brief with a value for a parameter: an object of its type, a list of them, or a text to be read as such. */
    public Brief set(String name, Object value) {
        Map<String, Object> all = new LinkedHashMap<>(parameters);
        all.put(name, value);
        return new Brief(parts, all);
    }

    /** The title, or the name of the file without its ending. */
    public String title() {
        return tree.title() != null ? tree.title() : tree.source().name().replaceFirst("\\.brief$", "");
    }

    /** The name of its file. */
    String name() {
        return tree.source().name();
    }

    /** The folder where its paths start. */
    public Path folder() {
        return parts.get(parts.size() - 1).folder();
    }

    String text() {
        return tree.source().text();
    }

    /** The texts of the briefs that it uses, by the paths under which they were first used. */
    Map<String, String> used() {
        Map<String, String> texts = new LinkedHashMap<>();
        parts.subList(0, parts.size() - 1)
                .forEach(p ->
                        texts.put(p.brief().source().name(), p.brief().source().text()));
        return texts;
    }

    /** This brief with the types that a record names for fields that it does not declare itself. */
    Brief typed(Map<String, Map<String, String>> types) {
        List<Tables.Placed> typed = new ArrayList<>();
        for (Tables.Placed part : parts) {
            typed.add(new Tables.Placed(RecordedTypes.declared(part.brief(), types), part.folder()));
        }
        return new Brief(typed, parameters);
    }

    /** The locale of printed numbers. */
    public String locale() {
        return tree.settings().locale();
    }

    /**
     * Looks for problems: reads headers and types, calculates nothing.
     *
     * @throws BriefException with all problems
     * @throws dev.fiesta.problem.DataException when an input is not there
     */
    public Tables check(Fiesta fiesta) {
        Tables tables = fiesta.tables(parts, parameters);
        List<Problem> problems = new ArrayList<>();
        pieces().forEach(piece -> check(piece, tables, problems));
        texts().forEach((text, at) -> FilledTexts.unknown(
                        text,
                        tables.parameterNames(),
                        t -> tables.names().contains(t) ? tables.schema(t).names() : null)
                .forEach(message -> problems.add(tree.source().problem(at, message, null))));
        if (!problems.isEmpty()) {
            throw new BriefException(problems);
        }
        return tables;
    }

    List<dev.fiesta.language.BriefTree.Piece> pieces() {
        return tree.report() == null ? List.of() : tree.report();
    }

    /** The texts of the report, with where they stand. */
    private Map<String, dev.fiesta.language.Span> texts() {
        Map<String, dev.fiesta.language.Span> texts = new LinkedHashMap<>();
        pieces().forEach(piece -> Pieces.texts(piece).forEach(text -> texts.put(text, piece.at())));
        return texts;
    }

    private void check(dev.fiesta.language.BriefTree.Piece piece, Tables tables, List<Problem> problems) {
        Ref table = Pieces.table(piece);
        if (table == null) {
            return;
        }
        if (!tables.names().contains(table.name())) {
            problems.add(noTable(table, tables));
            return;
        }
        Pieces.fields(piece).forEach(field -> checkField(table, field, tables, problems));
        for (dev.fiesta.language.BriefTree.Marker line : Pieces.lines(piece)) {
            if (line.table() != null && line.field() != null) {
                checkField(line.table(), line.field(), tables, problems);
            }
            if (line.parameter() != null
                    && !tables.parameterNames().contains(line.parameter().name())) {
                problems.add(tree.source()
                        .problem(
                                line.parameter().at(),
                                "There is no parameter '" + line.parameter().name() + "'.",
                                Names.didYouMean(line.parameter().name(), tables.parameterNames(), "There are")));
            }
        }
    }

    private void checkField(Ref table, Ref field, Tables tables, List<Problem> problems) {
        if (!tables.names().contains(table.name())) {
            problems.add(noTable(table, tables));
            return;
        }
        List<String> fields = tables.schema(table.name()).names();
        if (!fields.contains(field.name())) {
            problems.add(tree.source()
                    .problem(
                            field.at(),
                            "'" + table.name() + "' has no field '" + field.name() + "'.",
                            Names.didYouMean(field.name(), fields, "It has")));
        }
    }

    private Problem noTable(Ref table, Tables tables) {
        return tree.source()
                .problem(
                        table.at(),
                        "There is no table '" + table.name() + "'.",
                        Names.didYouMean(table.name(), tables.names(), "There are"));
    }

    /**
     * The different values, as texts, that a field has in the first input that has it; missing ones left out.
     *
     * @throws RequestException when there is no such parameter, or no input has such a field
     */
    public List<String> valuesOf(String field, Fiesta fiesta) {
        boolean known = parts.stream()
                .flatMap(p -> p.brief().parameters().stream())
                .anyMatch(p -> p.name().name().equals(field));
        if (!known) {
            throw new RequestException("The brief has no parameter '" + field + "'.");
        }
        Map<String, Object> others = new LinkedHashMap<>(parameters);
        others.remove(field);
        StringBuilder asked = new StringBuilder();
        for (Tables.Placed part : parts) {
            for (dev.fiesta.language.BriefTree.ParameterDef parameter :
                    part.brief().parameters()) {
                if (!parameter.name().name().equals(field)) {
                    asked.append(part.brief().source().at(parameter.at())).append('\n');
                }
            }
            for (dev.fiesta.language.BriefTree.Input input : part.brief().inputs()) {
                String text = asked + part.brief().source().at(input.at()) + "\ntable values from "
                        + dev.fiesta.language.Printer.name(input.name().name()) + " per "
                        + dev.fiesta.language.Printer.name(field);
                List<String> values = values(text, field, part.folder(), others, fiesta);
                if (values != null) {
                    return values;
                }
            }
        }
        throw new RequestException("No input has a field '" + field + "'; give its values: --set " + field + "=…,…");
    }

    /** The values of a field in an input, or null where it has no such field. */
    private static @Nullable List<String> values(
            String text, String field, Path folder, Map<String, ?> parameters, Fiesta fiesta) {
        dev.fiesta.language.BriefTree asked = Parser.brief(new BriefText("values", text));
        Map<String, Object> given = new LinkedHashMap<>(parameters);
        given.keySet()
                .retainAll(asked.parameters().stream().map(p -> p.name().name()).toList());
        try {
            Tables tables = fiesta.tables(asked, folder, given);
            return java.util.Objects.requireNonNull(
                            tables.run(List.of("values")).get("values"))
                    .stream()
                    .map(r -> r.get(field))
                    .filter(java.util.Objects::nonNull)
                    .map(dev.fiesta.value.Texts::of)
                    .toList();
        } catch (BriefException noSuchField) {
            return null;
        }
    }

    /**
     * Adds the record of a run to the files of its folder.
     *
     * @param folder where the files of the run were {@link Report#writeTo(OutputFolder, List, boolean) written}
     * @param started when the run began
     * @param keep whether its tables are kept beside the record
     */
    public void record(Report report, OutputFolder folder, java.time.Instant started, boolean keep) {
        List<String> written = folder.names();
        RunRecord.Writing record = new RunRecord.Writing(this, folder);
        record.asked(report.tables());
        record.inputs(
                report.tables(), report.outcome().records(), report.outcome().asides());
        record.tables(report, keep);
        report.results().values().stream().findFirst().ifPresent(r -> record.counted(r.notices()));
        record.files(written);
        record.write(started);
    }

    /** Writes the record of a run that a check ended; nothing else of it is written. */
    public void record(CheckException failure, Tables tables, OutputFolder folder, java.time.Instant started) {
        RunRecord.Writing record = new RunRecord.Writing(this, folder);
        record.asked(tables);
        record.inputs(tables, Map.of(), Map.of());
        record.nothing();
        Notices notices = new Notices();
        notices.checked(failure.check());
        record.counted(notices);
        record.write(started);
    }

    /** Runs the brief: the tables that the report shows, without a report those that no other table uses. */
    public Report run(Fiesta fiesta) {
        Tables tables = check(fiesta);
        return run(tables, wanted(tables));
    }

    /** Runs some of the tables of the brief, once {@link #check checked}. */
    public Report run(Tables tables, List<String> wanted) {
        return run(tables, new LinkedHashSet<>(wanted));
    }

    /** Tables with this brief's parameters over the inputs of others, which are then read once for all; see {@link Tables#with}. */
    public Tables check(Tables others, int number) {
        return others.with(parameters, number);
    }

    /** The reports of several briefs that differ in their parameters only, with tables checked together. */
    public static List<Report> runTogether(List<Brief> briefs, List<Tables> tables, List<String> wanted) {
        List<Tables.Outcome> outcomes = Tables.runTogether(tables, wanted);
        List<Report> reports = new ArrayList<>();
        for (int i = 0; i < briefs.size(); i++) {
            reports.add(briefs.get(i).report(tables.get(i), wanted, outcomes.get(i)));
        }
        return reports;
    }

    /** Whether a parameter stands in the path of an input, or may in a query, so that other values read other records. */
    public boolean choosesFiles(String parameter) {
        return parts.stream()
                .flatMap(p -> p.brief().inputs().stream())
                .anyMatch(i -> i.query() != null
                        || i.paths().stream().anyMatch(p -> p.text().contains("{:" + parameter + "}")));
    }

    /** The tables that the report shows; without a report those that no other table uses. */
    public List<String> wanted(Tables tables) {
        return pieces().isEmpty() ? tables.unused() : List.copyOf(shown(tables));
    }

    /** Runs the brief for data formats: every table that is worth a file, and those the report shows. */
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
        for (dev.fiesta.language.BriefTree.Piece piece : pieces()) {
            Ref table = Pieces.table(piece);
            if (table != null) {
                (piece instanceof dev.fiesta.language.BriefTree.Chart ? drawn : read).add(table.name());
            }
        }
        drawn.removeAll(read);
        drawn.removeIf(tables::isGrouped);
        data.removeAll(drawn);
        return data;
    }

    /** Every table that is worth a file, and those the report shows. */
    public List<String> all(Tables tables) {
        Set<String> wanted = new LinkedHashSet<>(tables.outputs());
        wanted.addAll(shown(tables));
        return List.copyOf(wanted);
    }

    /**
     * Runs the brief for some of its tables only.
     *
     * @throws RequestException when it has no such table
     */
    public Report run(Fiesta fiesta, List<String> only) {
        Tables tables = check(fiesta);
        refuseUnknown(tables, only);
        return run(tables, only);
    }

    /** @throws RequestException when one of the names is that of no table */
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
        for (dev.fiesta.language.BriefTree.Piece piece : pieces()) {
            Ref table = Pieces.table(piece);
            if (table != null) {
                wanted.add(table.name());
                tables.courses(table.name()).forEach(c -> wanted.add(c.table()));
            }
            Pieces.tablesInText(piece).stream().filter(tables.names()::contains).forEach(wanted::add);
        }
        return wanted;
    }

    private Report run(Tables tables, Set<String> wanted) {
        return report(tables, List.copyOf(wanted), tables.runCounted(List.copyOf(wanted)));
    }

    private Report report(Tables tables, List<String> wanted, Tables.Outcome outcome) {
        boolean whole = wanted.containsAll(wanted(tables));
        List<dev.fiesta.language.BriefTree.Piece> pieces = whole ? pieces() : piecesOf(wanted, tables);
        return new Report(title(), tree.settings(), data(tables, wanted), pieces, tables, outcome);
    }

    /** What a report says of some of its tables: what speaks of others goes, and so do headings under which nothing is left. */
    private List<dev.fiesta.language.BriefTree.Piece> piecesOf(List<String> wanted, Tables tables) {
        List<dev.fiesta.language.BriefTree.Piece> kept = new ArrayList<>();
        for (dev.fiesta.language.BriefTree.Piece piece : pieces()) {
            Ref table = Pieces.table(piece);
            boolean spoken = Pieces.tablesInText(piece).stream()
                    .allMatch(t -> wanted.contains(t) || !tables.names().contains(t));
            if (spoken && (table == null || wanted.contains(table.name()))) {
                kept.add(piece);
            }
        }
        List<dev.fiesta.language.BriefTree.Piece> all = new ArrayList<>();
        for (int i = 0; i < kept.size(); i++) {
            boolean empty = i + 1 == kept.size() || kept.get(i + 1) instanceof dev.fiesta.language.BriefTree.Heading;
            if (!(kept.get(i) instanceof dev.fiesta.language.BriefTree.Heading) || !empty) {
                all.add(kept.get(i));
            }
        }
        return all;
    }
}
