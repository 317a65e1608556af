package dev.fiesta.report;

import dev.fiesta.Fiesta;
import dev.fiesta.Moved;
import dev.fiesta.problem.Remedy;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/** Two things to be compared: run records, folders of csv files, or csv files. */
public final class Compared {
    private Compared() {}

    /** Tables to be compared, with the keys that a record names for them. */
    private record Side(Map<String, Comparison.Cells> tables, Map<String, List<String>> keys) {}

    /**
     * Compares two run records, two folders or two files; tables that only one side has are lone rows all of them.
     *
     * @param first the earlier
     * @param second the later
     * @param keys the fields that make a row the one it is; empty to take those that a record names
     * @return these, in their order
     * @throws RequestException when there is nothing to compare
     */
    public static List<Comparison> of(Path first, Path second, List<String> keys) {
        Side left = side(first);
        Side right = side(second);
        boolean lone = left.tables().size() == 1 && right.tables().size() == 1;
        List<Comparison> all = new ArrayList<>();
        left.tables().forEach((name, table) -> {
            Comparison.Cells other = lone
                    ? right.tables().values().iterator().next()
                    : right.tables().get(name);
            if (other != null) {
                all.add(Comparison.of(table, other, keys(name, keys, left, right, table)));
            }
        });
        if (all.isEmpty()) {
            throw new RequestException("No table stands on both sides: "
                    + String.join(", ", left.tables().keySet()) + " there, "
                    + String.join(", ", right.tables().keySet()) + " here.");
        }
        return all;
    }

    /**
     * What moved a figure between two run records, whose inputs are what they were.
     *
     * @param first the earlier
     * @param second the later
     * @param table the name of the table
     * @param figure the name of the figure
     * @param fiesta where it runs
     * @return the parts
     * @throws RequestException when these changed, or the parts of the figure cannot be told
     */
    public static Moved moved(Path first, Path second, String table, String figure, Fiesta fiesta) {
        Moved.Side before =
                Repetition.tables(RunRecord.read(first), fiesta).trace().side(table, figure);
        Moved.Side after =
                Repetition.tables(RunRecord.read(second), fiesta).trace().side(table, figure);
        return Moved.between(before, after);
    }

    private static List<String> keys(String table, List<String> told, Side left, Side right, Comparison.Cells cells) {
        List<String> wanted =
                told.isEmpty() ? left.keys().getOrDefault(table, right.keys().getOrDefault(table, List.of())) : told;
        return wanted.stream().allMatch(cells.fields()::contains) || !told.isEmpty() ? wanted : List.of();
    }

    private static Side side(Path path) {
        Path record = Files.isDirectory(path) ? path.resolve(RunRecord.FILE) : path;
        if (Files.isRegularFile(record) && record.toString().endsWith(".json")) {
            return recorded(RunRecord.read(record));
        }
        Map<String, Comparison.Cells> tables = new LinkedHashMap<>();
        if (Files.isDirectory(path)) {
            try (Stream<Path> files = Files.list(path)) {
                files.sorted().forEach(f -> {
                    String name = name(f);
                    if (name != null) {
                        tables.put(name, Comparison.Cells.read(name, f));
                    }
                });
            } catch (IOException e) {
                throw new dev.fiesta.problem.MachineException("'" + path + "' cannot be read", e);
            }
        } else if (Files.isRegularFile(path)) {
            String known = name(path);
            String name = known == null ? path.getFileName().toString() : known;
            tables.put(name, Comparison.Cells.read(name, path));
        } else {
            throw new RequestException("There is no file or folder '" + path + "'.");
        }
        return new Side(tables, Map.of());
    }

    private static Side recorded(RunRecord record) {
        Map<String, Comparison.Cells> tables = new LinkedHashMap<>();
        Map<String, List<String>> keys = new LinkedHashMap<>();
        record.tables().values().forEach(t -> {
            Comparison.Cells kept = record.kept(t);
            if (kept != null) {
                tables.put(t.name(), kept);
                keys.put(t.name(), t.keys());
            }
        });
        if (tables.isEmpty()) {
            throw Remedy.offered(
                    new RequestException("The record keeps no tables; it was written without them."),
                    Remedy.Kind.KEPT_TABLES,
                    "");
        }
        return new Side(tables, keys);
    }

    /** The name of a table's file, or null for other files. */
    @org.jspecify.annotations.Nullable
    private static String name(Path file) {
        String name = file.getFileName().toString();
        return name.endsWith(".csv.gz")
                ? name.substring(0, name.length() - 7)
                : name.endsWith(".csv") ? name.substring(0, name.length() - 4) : null;
    }
}
