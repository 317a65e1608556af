package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.FileLines;
import dev.fiesta.source.files.Paths;
import dev.fiesta.source.files.SampledBytes;
import dev.fiesta.source.files.SharedFile;
import dev.fiesta.source.files.Spool;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.DataOutput;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/** Records that stand in lines of their own and name their fields. A record without a field has a missing value there. */
final class LineSource implements Portable {
    /**
     * A file of lines.
     *
     * @param format how its lines are read
     * @param counted what its records are counted in; where it is not {@link #LINE}, each line begins with its number
     */
    record Part(Paths.Named file, long size, LineFormat format, String counted) {
        Part placed(UnaryOperator<Path> place) {
            Path there = Portable.placed(file.path(), place);
            return new Part(new Paths.Named(file.name(), there), size, format, counted);
        }

        /** The number of the record that starts at a byte; 0 when the file cannot be read any more. */
        long number(FileChannel channel, long start) {
            return counted.equals(LINE)
                    ? FileLines.line(channel, start, (byte) '\n')
                    : FileLines.numberAt(channel, start);
        }

        /** The place of the record that starts at a byte, looked up when it is asked for. */
        Supplier<@Nullable String> place(long start) {
            return FileLines.place(file, counted, channel -> number(channel, start));
        }
    }

    /** How the lines of plain files are read, in words that others understand. */
    record Told(LineInput input, Inside inside) {}

    /** What the records of plain files are counted in. */
    static final String LINE = "line";

    private final @Nullable Told told;
    private final List<Part> parts;
    private final Dialect dialect;
    private final List<FieldSpec> fields;
    private final List<String> remarks;
    private final int piece;
    private final Judge.@Nullable Judging judging;

    private LineSource(
            @Nullable Told told,
            List<Part> parts,
            Dialect dialect,
            List<FieldSpec> fields,
            List<String> remarks,
            int piece,
            Judge.@Nullable Judging judging) {
        this.told = told;
        this.judging = judging;
        this.parts = parts;
        this.dialect = dialect;
        this.fields = fields;
        this.remarks = remarks;
        this.piece = piece;
    }

    /**
     * @param dialect which words stand for missing values; nothing else of it counts
     * @param declared fields whose types or names in the file were told
     */
    static LineSource open(Told told, List<Paths.Named> files, Dialect dialect, List<FieldSpec> declared, int piece) {
        LineFormat format = told.input().lines(told.inside());
        List<Part> parts = new ArrayList<>();
        List<String> remarks = new ArrayList<>();
        Spool.plain(files, dialect.encoding(), plain -> {
            Paths.Named file = plain.file();
            if (plain.guessed() != null) {
                remarks.add(file.name() + " is read as " + plain.guessed() + "; its bytes are not UTF-8.");
            }
            try {
                parts.add(new Part(file, Files.size(file.path()), format, LINE));
            } catch (IOException e) {
                throw new MachineException("'" + file.name() + "' cannot be read", e);
            }
        });
        LineGuess guess = new LineGuess(dialect);
        LineSource closed = new LineSource(told, parts, dialect, List.of(), remarks, piece, null);
        parts.forEach(part -> closed.sample(part, guess));
        return of(told, parts, dialect, declared, guess, remarks, piece);
    }

    /** What another process made of such lines. */
    static LineSource elsewhere(
            Told told,
            List<SharedFile> files,
            Dialect dialect,
            List<FieldSpec> fields,
            int piece,
            Judge.@Nullable Judging judging) {
        LineFormat format = told.input().lines(told.inside());
        List<Part> parts = files.stream()
                .map(f -> new Part(new Paths.Named(f.name(), f.path()), f.size(), format, LINE))
                .toList();
        return new LineSource(told, parts, dialect, List.copyOf(fields), List.of(), piece, judging);
    }

    /** Records that were handed over to another process. */
    static LineSource spooled(List<Part> parts, Dialect dialect, List<FieldSpec> fields, int piece) {
        return new LineSource(null, parts, dialect, List.copyOf(fields), List.of(), piece, null);
    }

    /** Records that were handed over one after another. */
    static LineSource of(List<RecordSpool> spools, Dialect dialect, List<FieldSpec> declared, int piece) {
        List<Part> parts = new ArrayList<>();
        List<String> remarks = new ArrayList<>();
        LineGuess guess = new LineGuess(dialect);
        for (RecordSpool spool : spools) {
            try {
                parts.add(new Part(
                        new Paths.Named(spool.name(), spool.path()),
                        Files.size(spool.path()),
                        spool.lines(),
                        spool.counted()));
            } catch (IOException e) {
                throw new MachineException("A temporary file cannot be read", e);
            }
            guess.add(spool.guess());
            remarks.addAll(spool.remarks());
        }
        return of(null, parts, dialect, declared, guess, remarks, piece);
    }

    private static LineSource of(
            @Nullable Told told,
            List<Part> parts,
            Dialect dialect,
            List<FieldSpec> declared,
            LineGuess guess,
            List<String> remarks,
            int piece) {
        remarks.addAll(guess.remarks());
        List<FieldSpec> fields = fields(guess.types(), declared, parts.get(0).file());
        return new LineSource(told, parts, dialect, fields, List.copyOf(remarks), piece, null);
    }

    private static List<FieldSpec> fields(Map<String, Type> met, List<FieldSpec> declared, Paths.Named first) {
        Map<String, FieldSpec> told = new LinkedHashMap<>();
        FieldNames.refuseUnknown(declared, met.keySet(), first.name(), "field");
        for (FieldSpec field : declared) {
            Type seen = met.getOrDefault(field.column(), Type.EMPTY);
            told.put(field.column(), field.openScale() ? field.as(Type.decimal(seen.scale())) : field);
        }
        if (met.isEmpty()) {
            throw new DataException(
                    first.name() + " is empty: no record in it names a field.", first.name(), 1, null, null);
        }
        List<FieldSpec> fields = new ArrayList<>();
        met.forEach((name, type) ->
                fields.add(told.getOrDefault(name, FieldSpec.undeclared(name).as(type))));
        return List.copyOf(fields);
    }

    /** Lines that are no records are told when they are read; of a file that has no others, the first is told here. */
    private void sample(Part part, LineGuess guess) {
        try (FileChannel channel = FileChannel.open(part.file().path(), StandardOpenOption.READ)) {
            Map<Long, String> odd = new TreeMap<>();
            LineReader lines = new LineReader(this, part, channel, odd::putIfAbsent);
            for (long[] block : SampledBytes.blocks(0, part.size())) {
                lines.read(block[0], block[0] + block[1], guess, line -> {});
            }
            if (guess.types().isEmpty() && !odd.isEmpty()) {
                Map.Entry<Long, String> first = odd.entrySet().iterator().next();
                throw lines.failure(first.getKey(), first.getValue() + ".");
            }
        } catch (IOException e) {
            throw new MachineException("'" + part.file().name() + "' cannot be read", e);
        }
    }

    /** The same records with some fields wider, or with fields behind those known. */
    LineSource with(List<FieldSpec> changed) {
        Map<String, FieldSpec> all = new LinkedHashMap<>();
        fields.forEach(f -> all.put(f.name(), f));
        changed.forEach(f -> all.put(f.name(), f));
        return new LineSource(told, parts, dialect, List.copyOf(all.values()), remarks, piece, judging);
    }

    @Override
    public LineSource settingAside(BitSet used, Aside aside) {
        if (parts.stream().anyMatch(p -> !p.counted().equals(LINE))) {
            throw new UnsupportedOperationException("only lines of files can be set aside");
        }
        aside.of(parts.stream()
                .map(p -> new Aside.InputFile(p.file().name(), p.file().path(), 0, (byte) '\n', dialect.encoding()))
                .toList());
        List<FieldSpec> judged = FieldSpec.judged(fields, used);
        return new LineSource(told, parts, dialect, judged, remarks, piece, new Judge.Judging(used, aside));
    }

    /** Files of one input are counted alike. */
    @Override
    public Numbering numbering() {
        return new RecordNumbers(
                parts.get(0).counted(),
                parts.stream()
                        .map(p -> new RecordNumbers.File(p.file().path(), (byte) '\n'))
                        .toList());
    }

    @Override
    public boolean isDeclared(int field) {
        return fields.get(field).declared();
    }

    Judge.@Nullable Judging judging() {
        return judging;
    }

    @Override
    public LineSource lenient() {
        return with(fields.stream().map(FieldSpec::lenient).toList());
    }

    List<Part> parts() {
        return parts;
    }

    Dialect dialect() {
        return dialect;
    }

    List<FieldSpec> fields() {
        return fields;
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
        remarks.forEach(notices::warn);
        return new LineScan(this);
    }

    @Override
    public LineSource placed(UnaryOperator<Path> place) {
        List<Part> all = parts.stream().map(p -> p.placed(place)).toList();
        return new LineSource(told, all, dialect, fields, remarks, piece, judging);
    }

    /** Lines begin where they begin, whoever reads them. */
    @Override
    public PiecedScan stretch(int from, int to, long start) {
        return new LineScan(this, from, to);
    }

    /** Fields that nobody had met stand behind those known, in the order in which they are met. */
    @Override
    public Widened widened(List<Widening> wider) {
        Map<String, FieldSpec> known = new HashMap<>();
        fields.forEach(f -> known.put(f.name(), f));
        List<FieldSpec> changed = wider.stream()
                .map(w -> known.getOrDefault(w.field(), FieldSpec.undeclared(w.field()))
                        .as(w.to()))
                .toList();
        return new Widened(this, with(changed), wider);
    }

    @Override
    public void write(DataOutput out) throws IOException {
        if (told != null) {
            PortableSources.write(this, told, out);
        } else {
            PortableSources.writeSpooled(this, out);
        }
    }

    @Override
    public @Nullable Aside aside() {
        return judging == null ? null : judging.aside();
    }
}
