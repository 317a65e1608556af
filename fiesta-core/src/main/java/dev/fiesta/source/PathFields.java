package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.cells.BadCell;
import dev.fiesta.source.cells.CellReader;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.cells.FoundCells;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.ByteArrayOutputStream;
import java.io.DataOutput;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.UnaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Records of files whose folders tell more of them: those of {@code year=2026/month=06/sales.csv} have a year and a month. */
public final class PathFields implements Portable {
    private static final Pattern FIELD = Pattern.compile("([^/=]+)=([^/]*)/");

    private final Source files;
    private final List<FieldSpec> fields;
    /** For each field its value in each file, by the number of the file. */
    private final List<Column> values;

    PathFields(Source files, List<FieldSpec> fields, List<Column> values) {
        this.files = files;
        this.fields = fields;
        this.values = values;
    }

    /**
     * The names that the paths of files tell.
     *
     * @throws DataException when a path tells other names than the first, or none
     */
    public static List<String> names(List<Paths.Named> files) {
        List<String> first = List.copyOf(told(files.get(0)).keySet());
        for (Paths.Named file : files) {
            List<String> own = List.copyOf(told(file).keySet());
            if (first.isEmpty() || !own.equals(first)) {
                throw new DataException(
                        first.isEmpty()
                                ? "The path '" + file.name() + "' tells no fields; folders like 'year=2026' do."
                                : "The path '" + file.name() + "' tells " + listed(own) + ", '"
                                        + files.get(0).name() + "' " + listed(first) + ".",
                        file.name(),
                        0,
                        null,
                        null);
            }
        }
        return first;
    }

    private static String listed(List<String> names) {
        return names.isEmpty() ? "no fields" : String.join(", ", names);
    }

    private static Map<String, String> told(Paths.Named file) {
        Map<String, String> told = new LinkedHashMap<>();
        Matcher fields = FIELD.matcher(file.name());
        while (fields.find()) {
            told.put(decoded(fields.group(1)), decoded(fields.group(2)));
        }
        return told;
    }

    /** Percent codes stand for bytes; a lone percent sign stands for itself. */
    private static String decoded(String text) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        byte[] written = text.getBytes(StandardCharsets.UTF_8);
        for (int i = 0; i < written.length; i++) {
            int high = i + 2 < written.length ? Character.digit(written[i + 1], 16) : -1;
            int low = i + 2 < written.length ? Character.digit(written[i + 2], 16) : -1;
            boolean code = written[i] == '%' && high >= 0 && low >= 0;
            bytes.write(code ? high << 4 | low : written[i]);
            i += code ? 2 : 0;
        }
        return bytes.toString(StandardCharsets.UTF_8);
    }

    /**
     * Puts the fields of paths behind those in the files.
     *
     * @param source of the files, in their order
     * @param names as {@link #names} gives them
     * @param declared those whose types were told
     * @throws DataException when a file has such a field too, or a value is none of its type
     */
    public static PathFields of(
            Source source, List<Paths.Named> files, List<String> names, List<FieldSpec> declared, Dialect dialect) {
        List<FieldSpec> fields = new ArrayList<>();
        List<Column> values = new ArrayList<>();
        List<Map<String, String>> told = files.stream().map(PathFields::told).toList();
        for (String name : names) {
            FieldSpec spec = declared.stream()
                    .filter(d -> d.column().equals(name))
                    .findFirst()
                    .orElse(FieldSpec.undeclared(name));
            if (source.schema().names().contains(spec.name())) {
                throw new DataException(
                        "'" + name + "' is told by the path and stands in '"
                                + files.get(0).name() + "' too. Give one of them another name: fields " + name
                                + "_of_path … from \"" + name + "\"",
                        files.get(0).name(),
                        0,
                        name,
                        null);
            }
            List<String> texts =
                    told.stream().map(t -> Objects.requireNonNull(t.get(name))).toList();
            FieldSpec typed = spec.isOpen() ? spec.as(guessed(name, texts, dialect)) : spec;
            fields.add(typed);
            values.add(column(typed, texts, files, dialect));
        }
        return new PathFields(source, fields, values);
    }

    private static Type guessed(String name, List<String> texts, Dialect dialect) {
        LineGuess guess = new LineGuess(dialect);
        texts.forEach(t -> guess.cell(name, t));
        return Objects.requireNonNull(guess.types().get(name));
    }

    /** Read by the same hands as cells of files. */
    private static Column column(FieldSpec field, List<String> texts, List<Paths.Named> files, Dialect dialect) {
        LineCells cells = new LineCells(List.of(field));
        texts.forEach(t -> {
            cells.cell(field.column(), t);
            cells.endRow(0, 0);
        });
        cells.gather();
        FoundCells found = new FoundCells(1);
        cells.column(0, found);
        try {
            return CellReader.of(field, dialect, 1)
                    .read(cells.bytes(), found, 0, null, texts.size(), (kind, spec, offset, value) -> {});
        } catch (BadCell bad) {
            String file = files.get(cells.row(bad.offset)).name();
            throw new DataException(
                    "The path '" + file + "' tells " + field.name() + " " + bad.shown() + ", which is not "
                            + field.type().withArticle() + ".",
                    file,
                    0,
                    field.name(),
                    bad.value);
        }
    }

    private PathFields with(Source other) {
        return new PathFields(other, fields, values);
    }

    @Override
    public Schema schema() {
        List<dev.fiesta.value.Field> all = new ArrayList<>(files.schema().fields());
        all.addAll(FieldSpec.schema(fields).fields());
        return new Schema(all);
    }

    @Override
    public Source lenient() {
        return with(files.lenient());
    }

    @Override
    public Map<String, String> sums() {
        return files.sums();
    }

    @Override
    public Source settingAside(BitSet used, Aside aside) {
        BitSet own = (BitSet) used.clone();
        own.clear(files.schema().size(), Math.max(own.length(), files.schema().size()));
        return with(files.settingAside(own, aside));
    }

    @Override
    public boolean isDeclared(int field) {
        int inFiles = files.schema().size();
        return field >= inFiles ? fields.get(field - inFiles).declared() : files.isDeclared(field);
    }

    @Override
    public boolean isPortable() {
        return files instanceof Portable portable && portable.isPortable();
    }

    @Override
    public PathFields placed(UnaryOperator<Path> place) {
        return with(((Portable) files).placed(place));
    }

    @Override
    public PiecedScan stretch(int from, int to, long start) {
        return new Pieces(((Portable) files).stretch(from, to, start));
    }

    @Override
    public @Nullable Aside aside() {
        return ((Portable) files).aside();
    }

    @Override
    public Source ofCells() {
        return files;
    }

    @Override
    public Widened widened(List<Widening> wider) {
        return widened(((Portable) files).widened(wider));
    }

    @Override
    public void write(DataOutput out) throws IOException {
        PortableSources.write((Portable) files, fields, values, out);
    }

    @Override
    public Scan scan(Notices notices) {
        Scan scan = files.scan(notices);
        return scan instanceof PiecedScan pieced ? new Pieces(pieced) : new Whole(scan);
    }

    /** A reading of the files, to which the fields of their paths are added. */
    private class Whole extends PassedOnScan {
        private final Scan scan;

        Whole(Scan scan) {
            super(scan);
            this.scan = scan;
        }

        @Override
        public Reader reader(Notices counted) {
            return new FileReader(scan.reader(counted));
        }
    }

    /** The same, in pieces that others may read. */
    private final class Pieces extends Whole implements PiecedScan {
        private final PiecedScan pieces;

        Pieces(PiecedScan pieces) {
            super(pieces);
            this.pieces = pieces;
        }

        @Override
        public int pieces() {
            return pieces.pieces();
        }

        @Override
        public int pieceBytes() {
            return pieces.pieceBytes();
        }

        @Override
        public long start(int piece) {
            return pieces.start(piece);
        }

        @Override
        public void publish(int piece, long start) {
            pieces.publish(piece, start);
        }
    }

    /** A failure of the files; where they need wider types, the same of these. */
    private Widened widened(Widened inFiles) {
        return new Widened(this, with(inFiles.source()), inFiles.fields());
    }

    /** Adds the fields of the path to batches, each of which comes from one file. */
    private final class FileReader implements Reader {
        private final Reader reader;

        FileReader(Reader reader) {
            this.reader = reader;
        }

        @Override
        public @Nullable Batch next() {
            try {
                Batch batch = reader.next();
                return batch == null ? null : more(batch);
            } catch (Widened e) {
                throw widened(e);
            }
        }

        @Override
        public Batch again(long sequence) {
            try {
                return more(reader.again(sequence));
            } catch (Widened e) {
                throw widened(e);
            }
        }

        private Batch more(Batch batch) {
            return batch.loadedBy(schema().size() + HIDDEN, MoreLoader::new);
        }

        @Override
        public void tell(Notices notices) {
            reader.tell(notices);
        }

        @Override
        public void settled(int rows) {
            reader.settled(rows);
        }

        @Override
        public void finish() {
            reader.finish();
        }

        @Override
        public long sequence() {
            return reader.sequence();
        }
    }

    /** Loads fields of the path, and those of the files by another loader. */
    private final class MoreLoader implements Batch.Loader {
        private final Batch.Loader from;
        private final int inFiles = files.schema().size();

        MoreLoader(Batch.Loader from) {
            this.from = from;
        }

        private boolean isOfPath(int field) {
            return field >= inFiles && field < inFiles + values.size();
        }

        private int inFiles(int field) {
            return field < inFiles ? field : field - values.size();
        }

        @Override
        public Column load(int field, int @Nullable [] rows, int count) {
            if (isOfPath(field)) {
                return value(values.get(field - inFiles), rows == null || count == 0 ? 0 : rows[0], count);
            }
            try {
                return from.load(inFiles(field), rows, count);
            } catch (Widened e) {
                throw widened(e);
            }
        }

        /** Of a field of the path there is one value in a batch. */
        @Override
        public @Nullable Bounds bounds(int field) {
            if (!isOfPath(field)) {
                return from.bounds(inFiles(field));
            }
            Column one = load(field, null, 2);
            return one.isMissing(0) ? null : new Bounds(one);
        }

        @Override
        public void read(int field, int @Nullable [] rows, int count) {
            if (!isOfPath(field)) {
                from.read(inFiles(field), rows, count);
            }
        }

        /** A batch is of one file, whose number stands in the origin of each of its rows. */
        private Column value(Column byFile, int row, int count) {
            LongColumn origin = (LongColumn) from.load(inFiles + 1, new int[] {row}, 1);
            int file = Source.file(origin.values()[0]);
            return byFile.isMissing(file)
                    ? Column.missing(byFile.type(), count)
                    : Column.constant(byFile.type(), byFile.get(file), count);
        }
    }
}
