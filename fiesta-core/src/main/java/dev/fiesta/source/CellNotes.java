package dev.fiesta.source;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * What is to be told of the cells of one piece. Columns are loaded for more rows than a clause looks at in the end; what was met
 * on the way counts only where a clause has looked.
 */
public final class CellNotes {
    /** One cell. */
    private record Note(Notices.Kind kind, String name, String value, Supplier<@Nullable String> place) {}

    private final Source source;
    private final Map<Integer, TreeMap<Integer, Note>> met = new HashMap<>();
    private Notices notices = new Notices();
    private long sequence;

    /** Of the pieces of a source. */
    public CellNotes(Source source) {
        this.source = source;
    }

    /** From now on it counts here. */
    public void tell(Notices to) {
        notices = to;
    }

    /** Another piece. */
    public void begin(long piece) {
        sequence = piece;
        met.clear();
    }

    /** A cell was loaded that is to be told of if somebody looks at it. */
    public void met(
            Notices.Kind kind, int field, String name, int row, String value, Supplier<@Nullable String> place) {
        met.computeIfAbsent(field, f -> new TreeMap<>()).put(row, new Note(kind, name, value, place));
    }

    /** A loader whose fields are counted as they are looked at. */
    public Batch.Loader loader(Batch.Loader columns) {
        return new Batch.Loader() {
            @Override
            public Column load(int field, int @Nullable [] rows, int count) {
                return columns.load(field, rows, count);
            }

            @Override
            public dev.fiesta.value.@Nullable Bounds bounds(int field) {
                return columns.bounds(field);
            }

            @Override
            public void read(int field, int @Nullable [] rows, int count) {
                if (!met.isEmpty() && met.containsKey(field)) {
                    count(met.get(field), rows, count);
                }
            }
        };
    }

    /** @param rows the rows looked at, ascending, or null for all */
    private void count(TreeMap<Integer, Note> notes, int @Nullable [] rows, int count) {
        notes.forEach((row, note) -> {
            if (rows == null || Arrays.binarySearch(rows, 0, count, row) >= 0) {
                notices.cell(source, note.kind, note.name, sequence, row, note.value, note.place);
            }
        });
    }
}
