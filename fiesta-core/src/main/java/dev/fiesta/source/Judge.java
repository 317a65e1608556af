package dev.fiesta.source;

import dev.fiesta.problem.Notices;
import dev.fiesta.source.cells.BadCell;
import dev.fiesta.source.cells.CellReader;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Decides for the records of a piece which can be read: the fields that a brief uses are read in all of them, before any clause.
 * For one worker.
 */
final class Judge {
    /**
     * What a source sets aside.
     *
     * @param fields the fields that a record must be readable in
     */
    record Judging(BitSet fields, Aside aside) {
        /** Tells it to somebody else who reads the same records. */
        void write(DataOutput out) throws IOException {
            Packing.bits(out, fields);
            aside.writeSetting(out);
        }

        static Judging read(DataInput in) throws IOException {
            return new Judging(Packing.bits(in), Aside.ofSetting(in));
        }
    }

    /** The records of a piece. */
    interface Piece {
        int rows();

        /** What is wrong with whole records, by row. */
        Map<Integer, String> odd();

        /** The row of a cell that starts at a byte. */
        int row(int offset);

        /** Where the line of a row starts in its file, and where it ends. */
        long start(int row);

        long end(int row);

        /** Reads a field of some rows, for what is counted of its cells; nothing where the file lacks the field. */
        void read(CellReader reader, int field, int[] rows, CellReader.Counted counted);
    }

    private static final String UNCLEAR = "is one day by one pattern and another by the next";

    private final List<FieldSpec> specs;
    private final BitSet fields;
    private final Aside aside;
    private final @Nullable CellReader[] readers;
    private final Map<Integer, Aside.Found> bad = new TreeMap<>();
    private int part;

    Judge(List<FieldSpec> specs, Judging judging) {
        this.specs = specs;
        this.fields = judging.fields();
        this.aside = judging.aside();
        this.readers = new CellReader[specs.size()];
    }

    /** Another file, which may be laid out in another way. */
    void begin(int file, Dialect dialect) {
        part = file;
        int texts = FieldSpec.texts(specs);
        fields.stream()
                .filter(f -> !specs.get(f).badAsMissing())
                .forEach(f -> readers[f] = CellReader.of(specs.get(f).lenient(), dialect, texts));
    }

    /** The rows that can be read; null for all. */
    int @Nullable [] readable(Piece piece) {
        bad.clear();
        piece.odd().forEach((row, why) -> put(piece, row, "", "", why));
        int[] rows = left(piece);
        for (int f = fields.nextSetBit(0); f >= 0; f = fields.nextSetBit(f + 1)) {
            CellReader reader = readers[f];
            if (reader != null) {
                read(piece, reader, f, rows);
            }
        }
        return bad.isEmpty() ? null : left(piece);
    }

    private int[] left(Piece piece) {
        return IntStream.range(0, piece.rows()).filter(r -> !bad.containsKey(r)).toArray();
    }

    private void read(Piece piece, CellReader reader, int field, int[] rows) {
        int[] left = rows;
        String why = "is not " + specs.get(field).type().withArticle();
        while (true) {
            try {
                piece.read(reader, field, left, (kind, spec, offset, value) -> {
                    if (kind == Notices.Kind.BAD_AS_MISSING) {
                        put(piece, piece.row(offset), spec.name(), value, why);
                    }
                });
                return;
            } catch (BadCell unclear) {
                int row = piece.row(unclear.offset);
                put(piece, row, specs.get(field).name(), unclear.shown(), UNCLEAR);
                left = Arrays.stream(left).filter(r -> r != row).toArray();
            }
        }
    }

    private void put(Piece piece, int row, String field, String value, String reason) {
        String plain = value.startsWith("'") ? value.substring(1, value.length() - 1) : value;
        bad.putIfAbsent(row, new Aside.Found(part, piece.start(row), piece.end(row), field, plain, reason.intern()));
    }

    /** Lets what was decided of some first rows of the piece count. */
    void settle(long sequence, int rows) {
        aside.judged(sequence, rows, bad);
    }
}
