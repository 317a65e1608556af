package dev.fiesta;

import dev.fiesta.output.OutputFile;
import dev.fiesta.output.TextStyle;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.progress.Timing;
import dev.fiesta.source.HandedRows;
import dev.fiesta.source.RecordSource;
import dev.fiesta.source.Source;
import dev.fiesta.step.TablePlan;
import dev.fiesta.total.Worked;
import dev.fiesta.value.Cells;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * The rows of a table, worked out. Immutable; may be shared between threads.
 *
 * <pre>{@code
 * for (Row row : result) {
 *     System.out.println(row.text("site") + " " + row.decimal("takings"));
 * }
 * }</pre>
 *
 * <p>What is handed out cannot change it, and figures that are hidden are not in it: they are missing, wherever one asks for them.
 * It is long because it hands its rows out in many forms. Rows that were too many for memory stand in a temporary file, which goes when the result is {@link #close closed}, or when nobody can
 * reach it any more.
 */
public final class Result implements Iterable<Row>, AutoCloseable {
    /** Stands where a figure is hidden. */
    public static final String HIDDEN = "·";

    private final String name;
    private final Worked worked;
    private final List<TotalRow> totals;
    private final int rows;
    private final List<ViewColumn> view;
    private final Notices notices;
    private final List<Timing> timings;
    /** Values of fields that were asked for as a whole. */
    private final @Nullable Column[] columns;

    private final @Nullable Cells[] inFile;
    private @Nullable Map<String, @Nullable Object[]> hiddenToo;
    private volatile boolean closed;

    Result(
            String name,
            Worked worked,
            List<TotalRow> totals,
            List<ViewColumn> view,
            Notices notices,
            List<Timing> timings) {
        this.name = name;
        this.worked = worked;
        this.totals = List.copyOf(totals);
        this.rows = Math.toIntExact(worked.rows());
        this.view = view;
        this.columns = new Column[worked.schema().size()];
        this.inFile = new Cells[columns.length];
        this.notices = notices;
        this.timings =
                timings.stream().map(t -> t.of(TablePlan.shown(t.table()))).toList();
    }

    static Result of(TablePlan plan, Worked worked, Notices notices, List<Timing> timings) {
        List<TablePlan.ViewColumn> columns =
                plan.crossing() == null ? plan.view() : plan.crossing().view(worked.schema());
        List<String> keys = plan.levels().keys();
        List<ViewColumn> view = columns.stream()
                .map(v -> new ViewColumn(v.field(), v.title(), role(v.field(), keys), v.formats()))
                .toList();
        return new Result(plan.shownName(), worked, TotalRow.of(plan, worked), view, notices, timings);
    }

    private static ViewColumn.Role role(String field, @Nullable List<String> keys) {
        if (keys == null) {
            return ViewColumn.Role.FIELD;
        }
        return keys.contains(field) ? ViewColumn.Role.KEY : ViewColumn.Role.FIGURE;
    }

    /** All values of a field; those of rows that were too many for memory while they were worked out are read back now. */
    private synchronized Column whole(int field) {
        refuseClosed();
        Column known = columns[field];
        if (known == null) {
            try {
                known = withoutHidden(field, worked.column(field), 0, rows);
            } catch (OutOfMemoryError e) {
                String instead = "take them part by part, by eachPart or writeCsv";
                throw new MachineException(MachineException.memory("all rows of '" + name + "' at once", instead), e);
            }
            columns[field] = known;
        }
        return known;
    }

    /** The values of a field one by one; those of rows in the file of a run are read as they are looked at. */
    private synchronized Cells cells(int field) {
        if (!worked.isInFile() || columns[field] != null) {
            return whole(field);
        }
        refuseClosed();
        Cells known = inFile[field];
        if (known == null) {
            known = new FileCells(worked, field, this::whole, this::refuseClosed);
            inFile[field] = known;
        }
        return known;
    }

    /** Its rows as records; where they stand in the file of a run, they are written down once more, part by part. */
    Source asSource() {
        return worked.isInFile()
                ? HandedRows.of(schema(), taker -> eachPart(taker::take))
                : RecordSource.of(
                        schema(),
                        IntStream.range(0, columns.length).mapToObj(this::whole).toArray(Column[]::new),
                        rows);
    }

    /** A value also where it is hidden, for what adds hidden ones up. */
    @Nullable
    Object kept(String field, int row) {
        @Nullable Object @Nullable [] hidden = hiddenToo().get(field);
        return hidden != null ? hidden[row] : column(field).get(row);
    }

    /** The values of fields that are hidden in some rows. */
    private synchronized Map<String, @Nullable Object[]> hiddenToo() {
        if (hiddenToo == null) {
            Map<String, @Nullable Object[]> all = new HashMap<>();
            for (String field : worked.hidden().keySet()) {
                Column column = worked.column(schema().indexOf(field));
                all.put(field, IntStream.range(0, rows).mapToObj(column::get).toArray());
            }
            hiddenToo = all;
        }
        return hiddenToo;
    }

    private void refuseClosed() {
        if (closed) {
            throw new RequestException("the result '" + name + "' is closed; its rows are gone");
        }
    }

    /**
     * Some values of a field; where they are hidden, they are missing.
     *
     * @param before how many rows of the table stand before them
     */
    private Column withoutHidden(int field, Column column, int before, int count) {
        BitSet hidden = worked.hidden().get(schema().names().get(field));
        if (hidden == null) {
            return column;
        }
        int[] seen = IntStream.range(0, count)
                .map(i -> hidden.get(before + i) ? -1 : i)
                .toArray();
        return column.take(seen, count);
    }

    /** Lets the rows go; they can be asked for no more. */
    @Override
    public synchronized void close() {
        closed = true;
        Arrays.fill(columns, null);
        Arrays.fill(inFile, null);
        hiddenToo = null;
        worked.close();
    }

    /** {@return the name of the table} */
    public String name() {
        return name;
    }

    /** {@return the fields and their types} */
    public Schema schema() {
        return worked.schema();
    }

    /** {@return the number of rows} */
    public int rows() {
        return rows;
    }

    /** {@return what printed targets show, and how: the entries of {@code columns}, or all fields} */
    public List<ViewColumn> view() {
        return view;
    }

    /** {@return totals and subtotals, in the order in which they stand; they are no rows and count as none} */
    public List<TotalRow> totals() {
        return totals;
    }

    /** {@return what the run counted and told} */
    public Notices notices() {
        return notices;
    }

    /** {@return what the steps of the run did and took, for all tables that were worked out together} */
    public List<Timing> timings() {
        return timings;
    }

    /**
     * The values of a field.
     *
     * @param field the name of the field
     * @return the values
     * @throws RequestException when there is no such field
     */
    public Cells column(String field) {
        return cells(place(field));
    }

    private Column values(String field) {
        return whole(place(field));
    }

    private int place(String field) {
        int index = schema().indexOf(Given.needed(field, "the name of a field"));
        if (index < 0) {
            throw new RequestException(
                    "there is no field '" + field + "'. " + Names.didYouMean(field, schema().names(), "There are"));
        }
        return index;
    }

    private <C extends Column> C flat(String field, Class<C> held) {
        Column column = values(field).flat();
        if (!held.isInstance(column)) {
            throw new RequestException(
                    "the field '" + field + "' is " + column.type().withArticle());
        }
        return held.cast(column);
    }

    /**
     * Integers, decimals in units of their last digit, days since 1970-01-01 of dates, microseconds since then of datetimes and instants,
     * one for each row. What stands at {@link #missing} rows means nothing. The array is the caller's own.
     *
     * @param field the name of the field
     * @return the values
     * @throws RequestException when there is no such field, or it is of another type
     */
    public long[] longs(String field) {
        return Arrays.copyOf(flat(field, LongColumn.class).values(), rows);
    }

    /**
     * Decimals without objects.
     *
     * @param units of the last digit, one for each row
     * @param scale the digits behind the point
     */
    public record Decimals(long[] units, int scale) {}

    /**
     * {@return decimals of a field; see {@link #longs}}
     *
     * @param field the name of the field
     */
    public Decimals decimals(String field) {
        return new Decimals(longs(field), values(field).type().scale());
    }

    /**
     * {@return real numbers of a field, one for each row; see {@link #longs}}
     *
     * @param field the name of the field
     */
    public double[] doubles(String field) {
        return Arrays.copyOf(flat(field, DoubleColumn.class).values(), rows);
    }

    /**
     * {@return the rows in which a field is true; where it is {@link #missing}, it is not}
     *
     * @param field the name of the field
     */
    public BitSet truths(String field) {
        return BitSet.valueOf(Arrays.copyOf(flat(field, TruthColumn.class).bits(), (rows + 63) / 64));
    }

    /**
     * Texts by their numbers.
     *
     * @param codes the place of each row's text in the list, -1 where it is missing
     * @param texts every different text once, in no order that means anything
     */
    public record Coded(int[] codes, List<String> texts) {}

    /**
     * {@return texts of a field by their numbers; the array is the caller's own}
     *
     * @param field the name of the field
     */
    public Coded codes(String field) {
        TextColumn column = flat(field, TextColumn.class);
        int[] codes = Arrays.copyOf(column.codes(), rows);
        List<String> texts = IntStream.range(0, column.dictionary().size())
                .mapToObj(column.dictionary()::text)
                .toList();
        return new Coded(codes, texts);
    }

    /**
     * {@return texts of a field, one for each row, null when missing}
     *
     * @param field the name of the field
     */
    public List<@Nullable String> texts(String field) {
        TextColumn column = flat(field, TextColumn.class);
        List<@Nullable String> texts = new ArrayList<>();
        for (int i = 0; i < rows; i++) {
            texts.add(column.get(i));
        }
        return texts;
    }

    /**
     * {@return the rows in which a field has no value, hidden ones among them}
     *
     * @param field the name of the field
     */
    public BitSet missing(String field) {
        Column column = values(field);
        BitSet missing = new BitSet(rows);
        for (int row = 0; row < rows; row++) {
            if (column.isMissing(row)) {
                missing.set(row);
            }
        }
        return missing;
    }

    /**
     * {@return whether a value is kept from being shown; printed tables and data files have {@value #HIDDEN} in its place}
     *
     * @param field the name of the field
     * @param row the number of the row, from 0
     */
    public boolean isHidden(String field, int row) {
        BitSet rows = worked.hidden().get(field);
        return rows != null && rows.get(row);
    }

    /**
     * {@return whether a value rests on so few records that printed tables mark it}
     *
     * @param field the name of the field
     * @param row the number of the row, from 0
     */
    public boolean restsOnFew(String field, int row) {
        BitSet rows = worked.few().get(field);
        return rows != null && rows.get(row);
    }

    /**
     * {@return what is noted at a value, in the order of the notes}
     *
     * @param field the name of the field
     * @param row the number of the row, from 0
     */
    public List<String> notes(String field, int row) {
        if (worked.notes().isEmpty()) {
            return List.of();
        }
        return worked.notes().getOrDefault(field, Map.of()).entrySet().stream()
                .filter(n -> n.getValue().get(row))
                .map(Map.Entry::getKey)
                .toList();
    }

    /**
     * {@return a value as it may be shown: null when missing, {@value #HIDDEN} when hidden}
     *
     * @param field the name of the field
     * @param row the number of the row, from 0
     */
    public @Nullable Object shown(String field, int row) {
        return isHidden(field, row) ? HIDDEN : column(field).get(row);
    }

    /** Some rows, in the order given, without some fields; totals are left out. */
    Result pick(List<Integer> wanted, List<String> without) {
        int[] numbers = wanted.stream().mapToInt(Integer::intValue).toArray();
        List<dev.fiesta.value.Field> fields = schema().fields().stream()
                .filter(f -> !without.contains(f.name()))
                .toList();
        Column[] picked = fields.stream()
                .map(f -> values(f.name()).take(numbers, numbers.length))
                .toArray(Column[]::new);
        Schema shown = new Schema(fields);
        List<ViewColumn> columns =
                view.stream().filter(v -> !without.contains(v.field())).toList();
        return new Result(name, Worked.of(shown, picked, numbers.length), List.of(), columns, notices, timings);
    }

    /**
     * A row by its number, from 0.
     *
     * @param number its place
     * @return the row
     * @throws RequestException when there is no such row
     */
    public Row row(int number) {
        if (number < 0 || number >= rows) {
            throw new RequestException("there is no row " + number + "; '" + name + "' has " + rows + ", from 0 on");
        }
        return new Row(this, number);
    }

    @Override
    public Iterator<Row> iterator() {
        return stream().iterator();
    }

    /** {@return the rows, in order} */
    public Stream<Row> stream() {
        return IntStream.range(0, rows).mapToObj(this::row);
    }

    /**
     * The rows as Java records, components filled by the fields of the same name.
     *
     * @param <T> the class of the records
     * @param type a record class
     * @return these, in their order
     * @throws RequestException when a component has no field or another type
     */
    public <T extends Record> List<T> as(Class<T> type) {
        Given.needed(type, "a record class");
        return new RecordMapper<>(type, this).list();
    }

    /**
     * Writes the shown columns as delimited text: RFC 4180, unformatted values, missing empty. The file is written beside and
     * moved into place.
     *
     * @param file the file
     * @throws dev.fiesta.problem.MachineException when it cannot be written
     */
    public void writeCsv(Path file) {
        Given.needed(file, "a path");
        OutputFile.write(file, out -> write(out, TextStyle.CSV));
    }

    /**
     * Writes the shown columns as {@link #writeCsv(Path)} does, in UTF-8; the stream stays open.
     *
     * @param out where they go
     * @throws dev.fiesta.problem.MachineException when the stream takes no more
     */
    public void writeCsv(OutputStream out) {
        try {
            Writer text = new OutputStreamWriter(Given.needed(out, "a stream"), StandardCharsets.UTF_8);
            write(text, TextStyle.CSV);
            text.flush();
        } catch (IOException e) {
            throw new MachineException("The rows of '" + name + "' cannot be written", e);
        }
    }

    /**
     * Writes the shown columns as delimited text in some style.
     *
     * @param out where they go
     * @param style how cells are written
     * @throws java.io.IOException when what takes them fails
     */
    public void write(Appendable out, TextStyle style) throws IOException {
        refuseClosed();
        new DelimitedRows(this, worked, style).write(out);
    }

    /** Takes some rows that stand side by side. */
    @FunctionalInterface
    public interface PartTaker {
        /**
         * @param columns all fields in the order of the schema
         * @param rows how many they hold
         * @throws java.io.IOException when what takes them fails
         */
        void take(Column[] columns, int rows) throws IOException;
    }

    /**
     * Hands all rows over in their order, part by part, so that they need not all be in memory.
     *
     * @param taker who takes them
     * @throws java.io.IOException when what takes them fails
     */
    public void eachPart(PartTaker taker) throws IOException {
        refuseClosed();
        record Part(Column[] columns, int rows) {}
        worked.eachPart(
                (columns, from, to, before) -> {
                    int size = to - from;
                    Column[] part = IntStream.range(0, columns.length)
                            .mapToObj(f -> withoutHidden(f, columns[f].range(from, size), before, size))
                            .toArray(Column[]::new);
                    return new Part(part, size);
                },
                part -> taker.take(part.columns(), part.rows()));
    }
}
