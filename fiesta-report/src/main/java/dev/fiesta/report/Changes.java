package dev.fiesta.report;

import dev.fiesta.Tables;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Sees when a brief or its inputs change, and what moved in its tables since the last run. One thread. */
public final class Changes {
    private final Path brief;
    private final Map<Path, String> states = new LinkedHashMap<>();
    private Map<String, Comparison.Cells> last = new LinkedHashMap<>();

    /** @param brief the file of the brief that is watched */
    public Changes(Path brief) {
        this.brief = brief;
        states.put(brief, state(brief));
    }

    /** A run begins: what changes from now on is seen, whatever becomes of it, in all that the last one that could be planned looked at. */
    public void begin() {
        states.replaceAll((path, before) -> state(path));
    }

    /**
     * Looks at the brief and the files and folders of its inputs.
     *
     * @param tables its tables
     */
    public void watch(Tables tables) {
        states.keySet().retainAll(Set.of(brief));
        tables.files()
                .values()
                .forEach(files -> files.forEach(f -> {
                    states.put(f.path(), state(f.path()));
                    Path folder = f.path().toAbsolutePath().getParent();
                    if (folder != null) {
                        states.put(folder, state(folder));
                    }
                }));
    }

    /** {@return whether something changed since} */
    public boolean seen() {
        return states.entrySet().stream().anyMatch(e -> !e.getValue().equals(state(e.getKey())));
    }

    private static String state(Path path) {
        try {
            return Files.getLastModifiedTime(path) + " " + (Files.isDirectory(path) ? "" : Files.size(path));
        } catch (IOException e) {
            return "gone";
        }
    }

    /** {@return whether there was a run before} */
    public boolean isAgain() {
        return !last.isEmpty();
    }

    /**
     * {@return what moved since the last run, table by table; tables that are new are left out}
     *
     * @param report the report
     */
    public List<Comparison> moved(Report report) {
        Map<String, Comparison.Cells> now = new LinkedHashMap<>();
        List<Comparison> moved = new ArrayList<>();
        report.results().forEach((name, result) -> {
            Comparison.Cells cells = Comparison.Cells.of(result);
            now.put(name, cells);
            Comparison.Cells before = last.get(name);
            if (before != null) {
                List<String> keys = result.view().stream()
                        .filter(v -> v.key())
                        .map(v -> v.field())
                        .toList();
                boolean has = keys.stream().allMatch(before.fields()::contains);
                moved.add(Comparison.of(before, cells, has ? keys : List.of()));
            }
        });
        last = now;
        return moved;
    }
}
