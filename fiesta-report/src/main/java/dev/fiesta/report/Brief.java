package dev.fiesta.report;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.language.Ref;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Problem;
import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * A brief, parsed, with values for its parameters. Immutable.
 *
 * <pre>{@code
 * Report report = Brief.read(Path.of("takings.brief")).set("from_day", LocalDate.of(2026, 5, 1)).run(fiesta);
 * report.writeTo(Path.of("out"), Format.HTML, Format.CSV);
 * }</pre>
 */
public final class Brief {
    private final dev.fiesta.language.Brief tree;
    private final Path folder;
    private final Map<String, Object> parameters;

    private Brief(dev.fiesta.language.Brief tree, Path folder, Map<String, Object> parameters) {
        this.tree = tree;
        this.folder = folder;
        this.parameters = parameters;
    }

    /**
     * Reads a brief; its paths start in its folder.
     *
     * @throws BriefException when it cannot be right
     * @throws IllegalArgumentException when there is no such file
     * @throws MachineException when it cannot be read
     */
    public static Brief read(Path file) {
        Path folder = file.toAbsolutePath().getParent();
        try {
            return of(file.getFileName().toString(), Files.readString(file), folder);
        } catch (NoSuchFileException e) {
            throw new IllegalArgumentException("There is no brief '" + file + "'.");
        } catch (MalformedInputException e) {
            throw new MachineException("'" + file + "' is not UTF-8", null);
        } catch (IOException e) {
            throw new MachineException("'" + file + "' cannot be read", e);
        }
    }

    /** A brief from a text; {@code name} is what problems call it. */
    public static Brief of(String name, String text, Path folder) {
        return new Brief(Parser.brief(new BriefText(name, text)), folder, Map.of());
    }

    /** This brief with a value for a parameter: an object of its type, a list of them, or a text to be read as such. */
    public Brief set(String name, Object value) {
        Map<String, Object> all = new LinkedHashMap<>(parameters);
        all.put(name, value);
        return new Brief(tree, folder, all);
    }

    /** The title, or the name of the file without its ending. */
    public String title() {
        return tree.title() != null ? tree.title() : tree.source().name().replaceFirst("\\.brief$", "");
    }

    /** The locale of printed numbers. */
    public String locale() {
        return tree.settings().locale();
    }

    /**
     * Looks for problems: reads headers and types, works out nothing.
     *
     * @throws BriefException with all problems
     * @throws dev.fiesta.problem.DataException when an input is not there
     */
    public Tables check(Fiesta fiesta) {
        Tables tables = fiesta.tables(tree, folder, parameters);
        List<Problem> problems = new ArrayList<>();
        pieces().forEach(piece -> check(piece, tables, problems));
        if (!problems.isEmpty()) {
            throw new BriefException(problems);
        }
        return tables;
    }

    List<dev.fiesta.language.Brief.Piece> pieces() {
        return tree.report() == null ? List.of() : tree.report();
    }

    private void check(dev.fiesta.language.Brief.Piece piece, Tables tables, List<Problem> problems) {
        Ref table = Pieces.table(piece);
        if (table == null) {
            return;
        }
        if (!tables.names().contains(table.name())) {
            problems.add(tree.source()
                    .problem(
                            table.at(),
                            "There is no table '" + table.name() + "'.",
                            Names.didYouMean(table.name(), tables.names(), "There are")));
            return;
        }
        List<String> fields = tables.schema(table.name()).names();
        for (Ref field : Pieces.fields(piece)) {
            if (!fields.contains(field.name())) {
                problems.add(tree.source()
                        .problem(
                                field.at(),
                                "'" + table.name() + "' has no field '" + field.name() + "'.",
                                Names.didYouMean(field.name(), fields, "It has")));
            }
        }
    }

    /** Runs the brief: the tables that the report shows, without a report those that no other table uses. */
    public Report run(Fiesta fiesta) {
        Tables tables = check(fiesta);
        return run(tables, pieces().isEmpty() ? tables.unused() : shown(tables));
    }

    /** Runs the brief for data formats: every table that is worth a file, and those the report shows. */
    public Report runAll(Fiesta fiesta) {
        Tables tables = check(fiesta);
        Set<String> wanted = new LinkedHashSet<>(tables.outputs());
        wanted.addAll(shown(tables));
        return run(tables, wanted);
    }

    /**
     * Runs the brief for some of its tables only.
     *
     * @throws IllegalArgumentException when it has no such table
     */
    public Report run(Fiesta fiesta, List<String> only) {
        Tables tables = check(fiesta);
        for (String name : only) {
            if (!tables.names().contains(name)) {
                throw new IllegalArgumentException(
                        "The brief has no table '" + name + "'. " + Names.didYouMean(name, tables.names(), "It has"));
            }
        }
        return run(tables, only);
    }

    private Set<String> shown(Tables tables) {
        Set<String> wanted = new LinkedHashSet<>();
        for (dev.fiesta.language.Brief.Piece piece : pieces()) {
            Ref table = Pieces.table(piece);
            if (table != null) {
                wanted.add(table.name());
            }
            Pieces.tablesInText(piece).stream().filter(tables.names()::contains).forEach(wanted::add);
        }
        return wanted;
    }

    private Report run(Tables tables, java.util.Collection<String> wanted) {
        Map<String, Result> results = tables.run(List.copyOf(wanted));
        List<dev.fiesta.language.Brief.Piece> pieces = pieces().stream()
                .filter(p -> Pieces.table(p) == null
                        || wanted.contains(Pieces.table(p).name()))
                .toList();
        return new Report(title(), locale(), pieces, tables, results);
    }
}
