package dev.fiesta.source;

import dev.fiesta.problem.MachineException;
import dev.fiesta.source.cells.CellRules;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Paths;
import dev.fiesta.source.files.SharedFile;
import dev.fiesta.value.Column;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Sources as bytes: what one process found out about files, so that another need not look, or guess otherwise. */
public final class PortableSources {
    private static final int DELIMITED = 0;
    private static final int WITH_PATHS = 1;
    private static final int OF_FORMAT = 2;
    private static final int OF_LINES = 3;
    private static final int SPOOLED = 4;

    private final Consumer<Path> refuse;
    private final List<InputFormat> formats;
    private @Nullable Known known;

    /**
     * @param refuse fails for files that may not be read, before they are looked at
     * @param formats those that are read besides delimited text
     */
    public PortableSources(Consumer<Path> refuse, List<InputFormat> formats) {
        this.refuse = refuse;
        this.formats = List.copyOf(formats);
    }

    private record Known(InputFormat format, List<SharedFile> files, Told told, Portable source) {}

    /**
     * What a format tells of a source.
     *
     * @param files its files
     * @param fields all of its fields
     * @param dialect how cells are written
     */
    public record Told(List<Paths.Named> files, List<FieldSpec> fields, Dialect dialect) {}

    /**
     * Tells a source of a format, for {@link InputFormat#portable}.
     *
     * @throws IOException when a file cannot be looked at, or this not be written
     */
    public static void write(InputFormat format, Told told, DataOutput out) throws IOException {
        out.writeByte(OF_FORMAT);
        Packing.text(out, format.name());
        Packing.list(
                out,
                told.files(),
                file -> SharedFile.of(file.name(), file.path()).write(out));
        Packing.list(out, told.fields(), field -> write(field, out));
        write(told.dialect(), out);
    }

    static void write(Portable inFiles, List<FieldSpec> fields, List<Column> values, DataOutput out)
            throws IOException {
        out.writeByte(WITH_PATHS);
        inFiles.write(out);
        Packing.list(out, fields, field -> write(field, out));
        Packing.list(out, values, column -> Packing.column(out, column));
    }

    static void write(DelimitedSource source, List<String> remarks, DataOutput out) throws IOException {
        out.writeByte(DELIMITED);
        Packing.list(out, source.parts(), part -> write(part, out));
        Packing.list(out, source.fields(), field -> write(field, out));
        Packing.texts(out, remarks);
        out.writeInt(source.piece());
        write(source.judging(), out);
    }

    static void write(LineSource source, LineSource.Told told, DataOutput out) throws IOException {
        out.writeByte(OF_LINES);
        Packing.text(out, told.input().name());
        Packing.list(out, told.inside().slices(), slice -> {
            Packing.text(out, slice.name());
            out.writeInt(slice.from());
            out.writeInt(slice.to());
        });
        out.writeBoolean(told.inside().shortLines());
        Packing.list(
                out,
                source.parts(),
                part -> SharedFile.of(part.file().name(), part.file().path()).write(out));
        write(source.dialect(), out);
        Packing.list(out, source.fields(), field -> write(field, out));
        out.writeInt(source.piece());
        write(source.judging(), out);
    }

    /** Records that were handed over, which have fields with types of all values. */
    static void writeSpooled(LineSource source, DataOutput out) throws IOException {
        out.writeByte(SPOOLED);
        Packing.list(out, source.parts(), part -> {
            SharedFile.of(part.file().name(), part.file().path()).write(out);
            Packing.texts(out, ((SpooledLines) part.format()).names());
            Packing.text(out, part.counted());
        });
        write(source.dialect(), out);
        Packing.list(out, source.fields(), field -> write(field, out));
        out.writeInt(source.piece());
    }

    private static void write(Judge.@Nullable Judging judging, DataOutput out) throws IOException {
        out.writeBoolean(judging != null);
        if (judging != null) {
            judging.write(out);
        }
    }

    /**
     * A source as {@link Portable#write} told it.
     *
     * @throws MachineException when a file here is not the one that was looked at, or cannot be read
     */
    public Portable read(DataInput in) throws IOException {
        return switch (in.readByte()) {
            case WITH_PATHS ->
                new PathFields(read(in), Packing.list(in, () -> field(in)), Packing.list(in, () -> Packing.column(in)));
            case OF_FORMAT -> ofFormat(in);
            case OF_LINES -> ofLines(in);
            case SPOOLED -> spooled(in);
            default -> delimited(in);
        };
    }

    private DelimitedSource delimited(DataInput in) throws IOException {
        List<DelimitedSource.Part> parts = Packing.list(in, () -> part(in));
        List<FieldSpec> fields = Packing.list(in, () -> field(in));
        return new DelimitedSource(parts, List.copyOf(fields), Packing.texts(in), in.readInt(), judging(in));
    }

    private static Judge.@Nullable Judging judging(DataInput in) throws IOException {
        return in.readBoolean() ? Judge.Judging.read(in) : null;
    }

    private LineSource ofLines(DataInput in) throws IOException {
        LineInput input = (LineInput) format(Packing.text(in));
        List<Inside.Slice> slices =
                Packing.list(in, () -> new Inside.Slice(Packing.text(in), in.readInt(), in.readInt()));
        Inside inside = new Inside(null, null, null, null, slices, true, in.readBoolean(), false);
        List<SharedFile> files = Packing.list(in, () -> SharedFile.read(in, refuse));
        Dialect dialect = dialect(in);
        List<FieldSpec> fields = Packing.list(in, () -> field(in));
        return LineSource.elsewhere(
                new LineSource.Told(input, inside), files, dialect, fields, in.readInt(), judging(in));
    }

    private LineSource spooled(DataInput in) throws IOException {
        List<LineSource.Part> parts = Packing.list(in, () -> {
            SharedFile file = SharedFile.read(in, refuse);
            LineFormat lines = new SpooledLines(Packing.texts(in));
            return new LineSource.Part(new Paths.Named(file.name(), file.path()), file.size(), lines, Packing.text(in));
        });
        Dialect dialect = dialect(in);
        return LineSource.spooled(parts, dialect, Packing.list(in, () -> field(in)), in.readInt());
    }

    private InputFormat format(String name) {
        return Stream.concat(Stream.of(InputFormat.FIXED_WIDTH), formats.stream())
                .filter(f -> f.name().equals(name))
                .findFirst()
                .orElseThrow(() -> new MachineException("This member does not read inputs 'as " + name + "'", null));
    }

    private Portable ofFormat(DataInput in) throws IOException {
        InputFormat format = format(Packing.text(in));
        List<SharedFile> files = Packing.list(in, () -> SharedFile.read(in, refuse));
        List<Paths.Named> named =
                files.stream().map(f -> new Paths.Named(f.name(), f.path())).toList();
        return known(format, files, new Told(named, Packing.list(in, () -> field(in)), dialect(in)));
    }

    /** The source of the task before, where it is the same: a format may open all files to tell where its records stand. */
    private synchronized Portable known(InputFormat format, List<SharedFile> files, Told told) {
        Known last = known;
        if (last == null || last.format != format || !last.files.equals(files) || !last.told.equals(told)) {
            last = new Known(format, files, told, format.portable(told));
            known = last;
        }
        return last.source;
    }

    private static void write(DelimitedSource.Part part, DataOutput out) throws IOException {
        SharedFile.of(part.name(), part.path()).write(out);
        Packing.text(out, part.home().toAbsolutePath().toString());
        out.writeLong(part.dataStart());
        write(part.dialect(), out);
        out.writeInt(part.width());
        out.writeInt(part.cells().length);
        for (int cell : part.cells()) {
            out.writeInt(cell);
        }
        Packing.texts(out, part.remarks());
    }

    private DelimitedSource.Part part(DataInput in) throws IOException {
        SharedFile file = SharedFile.read(in, refuse);
        Path home = Path.of(Packing.text(in));
        long dataStart = in.readLong();
        Dialect dialect = dialect(in);
        int width = in.readInt();
        int[] cells = new int[in.readInt()];
        for (int c = 0; c < cells.length; c++) {
            cells[c] = in.readInt();
        }
        return new DelimitedSource.Part(
                file.name(), file.path(), home, file.size(), dataStart, dialect, width, cells, Packing.texts(in));
    }

    private static void write(Dialect dialect, DataOutput out) throws IOException {
        out.writeByte(dialect.delimiter());
        out.writeByte(dialect.quote());
        out.writeByte(dialect.newline());
        out.writeByte(dialect.comment());
        out.writeInt(dialect.skip());
        out.writeBoolean(dialect.header());
        out.writeBoolean(dialect.decimalComma());
        out.writeBoolean(dialect.quotedEmptyAsMissing());
        out.writeBoolean(dialect.shortRowsAsMissing());
        Packing.perhaps(
                out, dialect.encoding() == null ? null : dialect.encoding().name());
        Packing.texts(out, dialect.missing());
        out.writeBoolean(dialect.bracketsNegative());
    }

    private static Dialect dialect(DataInput in) throws IOException {
        return new Dialect(
                in.readByte(),
                in.readByte(),
                in.readByte(),
                in.readByte(),
                in.readInt(),
                in.readBoolean(),
                in.readBoolean(),
                in.readBoolean(),
                in.readBoolean(),
                encoding(Packing.perhaps(in)),
                Packing.texts(in),
                in.readBoolean());
    }

    private static @Nullable Charset encoding(@Nullable String name) {
        return name == null ? null : Charset.forName(name);
    }

    private static void write(FieldSpec field, DataOutput out) throws IOException {
        Packing.text(out, field.name());
        Packing.text(out, field.column());
        Packing.type(out, field.type());
        out.writeBoolean(field.declared());
        out.writeBoolean(field.openScale());
        Packing.perhaps(out, field.pattern());
        Packing.value(out, field.byDefault());
        out.writeBoolean(field.badAsMissing());
        CellRules rules = field.rules();
        Packing.texts(out, rules.patterns());
        out.writeBoolean(rules.firstWins());
        Packing.text(out, rules.language());
        Packing.texts(out, rules.without());
        out.writeBoolean(rules.grouped());
    }

    private static FieldSpec field(DataInput in) throws IOException {
        return new FieldSpec(
                Packing.text(in),
                Packing.text(in),
                Packing.type(in),
                in.readBoolean(),
                in.readBoolean(),
                Packing.perhaps(in),
                Packing.value(in),
                in.readBoolean(),
                new CellRules(
                        Packing.texts(in), in.readBoolean(), Packing.text(in), Packing.texts(in), in.readBoolean()));
    }
}
