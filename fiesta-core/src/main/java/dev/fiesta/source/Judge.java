package dev.fiesta.source;

import dev.fiesta.problem.Notices;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Decides for the records of a piece which can be read: the fields that a brief uses are read in all of them, before any clause.
 * For one worker.
 */
final class Judge {
    private final DelimitedSource source;
    private final BitSet fields;
    private final Aside aside;
    private final CellReader[] readers;
    private final Map<Integer, Aside.Found> bad = new TreeMap<>();

    Judge(DelimitedSource source, DelimitedSource.Judging judging) {
        this.source = source;
        this.fields = judging.fields();
        this.aside = judging.aside();
        this.readers = new CellReader[source.fields().size()];
    }

    /** Another file, which may be laid out in another way. */
    void begin(Dialect dialect) {
        int texts = FieldSpec.texts(source.fields());
        fields.stream()
                .filter(f -> !source.fields().get(f).badAsMissing())
                .forEach(f -> readers[f] = new CellReader(source.fields().get(f).lenient(), dialect, texts));
    }

    /**
     * The rows that can be read.
     *
     * @param base where the bytes stand in the file
     * @return null for all
     */
    int @Nullable [] readable(int part, long base, byte[] bytes, Cells cells) {
        bad.clear();
        cells.odd().forEach((row, odd) -> put(part, base, cells, row, "", "", told(odd, part)));
        int[] rows = left(cells);
        for (int f = fields.nextSetBit(0); f >= 0; f = fields.nextSetBit(f + 1)) {
            int cell = source.parts().get(part).cells()[f];
            if (readers[f] != null && cell >= 0) {
                read(part, base, bytes, cells, f, cell, rows);
            }
        }
        return bad.isEmpty() ? null : left(cells);
    }

    private String told(Cells.Ragged odd, int part) {
        return odd.cells() == Cells.Ragged.UNCLOSED
                ? "a quote is opened here and never closed"
                : "this row has " + odd.cells() + (odd.cells() == 1 ? " cell" : " cells") + ", the header has "
                        + source.parts().get(part).width();
    }

    private int[] left(Cells cells) {
        return IntStream.range(0, cells.rows()).filter(r -> !bad.containsKey(r)).toArray();
    }

    private void read(int part, long base, byte[] bytes, Cells cells, int field, int cell, int[] rows) {
        int[] left = rows;
        while (true) {
            try {
                readers[field].read(bytes, cells, cell, left, left.length, (kind, spec, offset, value) -> {
                    if (kind == Notices.Kind.BAD_AS_MISSING) {
                        put(
                                part,
                                base,
                                cells,
                                cells.row(offset),
                                spec.name(),
                                value,
                                "is not " + spec.type().withArticle());
                    }
                });
                return;
            } catch (CellReader.Bad unclear) {
                int row = cells.row(unclear.offset);
                put(
                        part,
                        base,
                        cells,
                        row,
                        source.fields().get(field).name(),
                        unclear.shown(),
                        "may be read in two ways");
                left = Arrays.stream(left).filter(r -> r != row).toArray();
            }
        }
    }

    private void put(int part, long base, Cells cells, int row, String field, String value, String reason) {
        long end = base + cells.rowEnd(row);
        String plain = value.startsWith("'") ? value.substring(1, value.length() - 1) : value;
        bad.putIfAbsent(row, new Aside.Found(part, base + cells.rowStart(row), end, field, plain, reason));
    }

    /** Lets what was decided of some first rows of the piece count. */
    void settle(long piece, int rows) {
        aside.judged(piece, rows, bad);
    }
}
