package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.cells.HeaderLine;
import dev.fiesta.source.files.Paths;
import dev.fiesta.source.files.Spool;
import dev.fiesta.value.Schema;
import java.io.DataOutput;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * Records in files of delimited text.
 *
 * <pre>{@code
 * Source sales = DelimitedSource.open(Paths.find(folder, "sales-*.csv"), Dialect.STANDARD, false, List.of(), false);
 * }</pre>
 */
public final class DelimitedSource implements Portable {
    /**
     * A file and where its fields are.
     *
     * @param name as it is told of
     * @param home where the one who asks sees it, who may have placed it elsewhere
     * @param dataStart the byte where records start
     * @param width the cells of its rows
     * @param cells for each field of the source its cell, or -1
     * @param remarks what was guessed or named, to be told whoever reads it
     */
    record Part(
            String name,
            Path path,
            Path home,
            long size,
            long dataStart,
            Dialect dialect,
            int width,
            int[] cells,
            List<String> remarks) {
        Part at(Path other) {
            return new Part(name, other, home, size, dataStart, dialect, width, cells, remarks);
        }
    }

    /** The bytes that a worker takes at a time. */
    static final int PIECE = 1 << 20;

    private static final int HEAD = 1 << 16;
    private static final int LONGEST_HEAD = 1 << 24;

    private final List<Part> parts;
    private final List<FieldSpec> fields;
    private final List<String> remarks;
    private final int piece;
    private final Judge.@Nullable Judging judging;

    DelimitedSource(
            List<Part> parts,
            List<FieldSpec> fields,
            List<String> remarks,
            int piece,
            Judge.@Nullable Judging judging) {
        this.judging = judging;
        this.remarks = remarks;
        this.parts = parts;
        this.fields = fields;
        this.piece = piece;
    }

    /**
     * Looks at headers and types.
     *
     * @param delimiterTold whether the dialect's delimiter was told; otherwise it is guessed for each file
     * @param declared fields whose types or columns were told
     * @param byName whether files may lack columns
     * @throws DataException when headers differ or a declared column is in no file
     */
    public static DelimitedSource open(
            List<Paths.Named> files, Dialect dialect, boolean delimiterTold, List<FieldSpec> declared, boolean byName) {
        return open(files, dialect, delimiterTold, declared, byName, PIECE);
    }

    static DelimitedSource open(
            List<Paths.Named> files,
            Dialect dialect,
            boolean delimiterTold,
            List<FieldSpec> declared,
            boolean byName,
            int piece) {
        List<Head> heads = new ArrayList<>();
        Spool.plain(files, dialect.encoding(), plain -> {
            Head head = Head.of(plain.file(), dialect, delimiterTold);
            if (plain.guessed() != null) {
                head.remarks.add(plain.file().name() + " is read as " + plain.guessed()
                        + "; its bytes are not UTF-8. Tell its encoding if this is wrong.");
            }
            heads.add(head);
        });
        Set<String> columns = columns(heads, byName);
        List<FieldSpec> fields = fields(columns, declared, heads.get(0));
        List<Part> parts = new ArrayList<>();
        for (Head head : heads) {
            Map<String, Integer> places = new HashMap<>();
            head.columns.forEach(c -> places.put(c, places.size()));
            int[] cells = fields.stream()
                    .mapToInt(f -> places.getOrDefault(f.column(), -1))
                    .toArray();
            parts.add(new Part(
                    head.file.name(),
                    head.file.path(),
                    head.file.path(),
                    head.size,
                    head.dataStart,
                    head.dialect,
                    head.columns.size(),
                    cells,
                    List.copyOf(head.remarks)));
        }
        List<String> remarks = new ArrayList<>();
        List<FieldSpec> known = TypeGuess.of(parts, fields, remarks);
        return new DelimitedSource(parts, known, List.copyOf(remarks), piece, null);
    }

    private static Set<String> columns(List<Head> heads, boolean byName) {
        Set<String> columns = new LinkedHashSet<>(heads.get(0).columns);
        for (Head head : heads) {
            if (!byName) {
                FieldNames.refuseOthers(heads.get(0).file.name(), columns, head.file.name(), head.columns);
            }
            columns.addAll(head.columns);
        }
        return columns;
    }

    private static List<FieldSpec> fields(Set<String> columns, List<FieldSpec> declared, Head first) {
        Map<String, FieldSpec> byColumn = new LinkedHashMap<>();
        FieldNames.refuseUnknown(declared, columns, first.file.name(), "column");
        for (FieldSpec field : declared) {
            byColumn.put(field.column(), field);
        }
        List<FieldSpec> fields = new ArrayList<>();
        for (String column : columns) {
            FieldSpec told = byColumn.get(column);
            fields.add(told != null ? told : FieldSpec.undeclared(column));
        }
        return List.copyOf(fields);
    }

    /** The same records with a wider type for a field. */
    DelimitedSource with(FieldSpec wider) {
        List<FieldSpec> all = fields.stream()
                .map(f -> f.name().equals(wider.name()) ? wider : f)
                .toList();
        return new DelimitedSource(parts, all, remarks, piece, judging);
    }

    @Override
    public DelimitedSource lenient() {
        return new DelimitedSource(
                parts, fields.stream().map(FieldSpec::lenient).toList(), remarks, piece, judging);
    }

    @Override
    public DelimitedSource settingAside(BitSet used, Aside aside) {
        aside.of(parts.stream()
                .map(p -> new Aside.InputFile(
                        p.name(),
                        p.path(),
                        p.dataStart(),
                        p.dialect().newline(),
                        p.dialect().encoding()))
                .toList());
        return new DelimitedSource(
                parts, FieldSpec.judged(fields, used), remarks, piece, new Judge.Judging(used, aside));
    }

    @Override
    public Numbering numbering() {
        return new RecordNumbers(
                LineSource.LINE,
                parts.stream()
                        .map(p -> new RecordNumbers.File(p.path(), p.dialect().newline()))
                        .toList());
    }

    @Override
    public boolean isDeclared(int field) {
        return fields.get(field).declared();
    }

    Judge.@Nullable Judging judging() {
        return judging;
    }

    List<FieldSpec> fields() {
        return fields;
    }

    List<Part> parts() {
        return parts;
    }

    int piece() {
        return piece;
    }

    @Override
    public Schema schema() {
        return FieldSpec.schema(fields);
    }

    @Override
    public Scan scan(Notices notices) {
        parts.forEach(part -> part.remarks().forEach(notices::warn));
        remarks.forEach(notices::warn);
        return new DelimitedScan(this);
    }

    @Override
    public DelimitedSource placed(UnaryOperator<Path> place) {
        List<Part> all =
                parts.stream().map(p -> p.at(Portable.placed(p.path(), place))).toList();
        return new DelimitedSource(all, fields, remarks, piece, judging);
    }

    @Override
    public PiecedScan stretch(int from, int to, long start) {
        return DelimitedScan.stretch(this, from, to, start);
    }

    @Override
    public Widened widened(List<Widening> wider) {
        DelimitedSource with = this;
        for (Widening field : wider) {
            FieldSpec known = fields.stream()
                    .filter(f -> f.name().equals(field.field()))
                    .findFirst()
                    .orElseThrow();
            with = with.with(known.as(field.to()));
        }
        return new Widened(this, with, wider);
    }

    @Override
    public void write(DataOutput out) throws IOException {
        PortableSources.write(this, remarks, out);
    }

    @Override
    public @Nullable Aside aside() {
        return judging == null ? null : judging.aside();
    }

    /** The start of a file: its layout and the names of its columns. */
    private static final class Head {
        final Paths.Named file;
        final Dialect dialect;
        final List<String> columns;
        final long dataStart;
        final long size;
        final List<String> remarks = new ArrayList<>();

        private Head(Paths.Named file, Dialect dialect, List<String> columns, long dataStart, long size) {
            this.file = file;
            this.dialect = dialect;
            this.columns = columns;
            this.dataStart = dataStart;
            this.size = size;
        }

        static Head of(Paths.Named file, Dialect told, boolean delimiterTold) {
            try (FileChannel channel = FileChannel.open(file.path(), StandardOpenOption.READ)) {
                long size = channel.size();
                for (int length = HEAD; ; length *= 4) {
                    byte[] start = read(channel, (int) Math.min(size, length));
                    Dialect seen = told.seen(start, delimiterTold);
                    Head head = parse(file, seen, start, size);
                    if (head != null) {
                        if (!delimiterTold && seen.delimiter() != ',') {
                            head.remarks.add(file.name() + ": " + seen.delimiterName() + " part its cells.");
                        }
                        return head;
                    }
                    if (length >= LONGEST_HEAD) {
                        throw new DataException(
                                file.name() + ": the first line is longer than 16 MiB.", file.name(), 1, null, null);
                    }
                }
            } catch (IOException e) {
                throw new MachineException("'" + file.name() + "' cannot be read", e);
            }
        }

        private static byte[] read(FileChannel channel, int length) throws IOException {
            ByteBuffer buffer = ByteBuffer.allocate(length);
            while (buffer.hasRemaining() && channel.read(buffer, buffer.position()) > 0) {
                continue;
            }
            return Arrays.copyOf(buffer.array(), buffer.position());
        }

        /** Null when more bytes are needed. */
        private static @Nullable Head parse(Paths.Named file, Dialect dialect, byte[] start, long size) {
            int at = HeaderLine.skip(start, dialect);
            boolean whole = start.length == size;
            List<String> cells = new ArrayList<>();
            int behind = HeaderLine.parse(start, at, dialect, cells);
            if (behind < 0 && !whole) {
                return null;
            }
            if (cells.isEmpty()) {
                throw new DataException(file.name() + " is empty: it has no header.", file.name(), 1, null, null);
            }
            if (!dialect.header()) {
                List<String> numbered = new ArrayList<>();
                cells.forEach(c -> numbered.add("field_" + (numbered.size() + 1)));
                return new Head(file, dialect, numbered, at, size);
            }
            List<String> remarks = new ArrayList<>();
            List<String> names = FieldNames.named(cells, file.name(), remarks);
            Head head = new Head(file, dialect, names, behind < 0 ? size : behind, size);
            head.remarks.addAll(remarks);
            return head;
        }
    }
}
