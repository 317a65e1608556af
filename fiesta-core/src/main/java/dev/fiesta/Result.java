package dev.fiesta;

import dev.fiesta.engine.Worked;
import dev.fiesta.output.OutputFile;
import dev.fiesta.plan.TablePlan;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.progress.Timing;
import dev.fiesta.source.CsvWriter;
import dev.fiesta.source.TextStyle;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.Iterator;
import java.util.List;
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
 */
public final class Result implements Iterable<Row> {
    /** Stands where a figure is hidden. */
    public static final String HIDDEN = "·";

    private final String name;
    private final Worked worked;
    private final List<TotalRow> totals;
    private final int rows;
    private final List<ViewColumn> view;
    private final Notices notices;
    private final List<Timing> timings;
    private Column @Nullable [] columns;

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
        this.notices = notices;
        this.timings =
                timings.stream().map(t -> t.of(TablePlan.shown(t.table()))).toList();
    }

    /** All columns; rows that were too many for memory while they were worked out are read back now. */
    private synchronized Column[] columns() {
        if (columns == null) {
            columns = worked.columns();
        }
        return columns;
    }

    /** The name of the table. */
    public String name() {
        return name;
    }

    /** The fields and their types. */
    public Schema schema() {
        return worked.schema();
    }

    /** The number of rows. */
    public int rows() {
        return rows;
    }

    /** What printed targets show, and how: the entries of {@code columns}, or all fields. */
    public List<ViewColumn> view() {
        return view;
    }

    /** Totals and subtotals, in the order in which they stand; they are no rows and count as none. */
    public List<TotalRow> totals() {
        return totals;
    }

    /** What the run counted and told. */
    public Notices notices() {
        return notices;
    }

    /** What the steps of the run did and took, for all tables that were worked out together. */
    public List<Timing> timings() {
        return timings;
    }

    /**
     * The values of a field.
     *
     * @throws RequestException when there is no such field
     */
    public Column column(String field) {
        int index = schema().indexOf(field);
        if (index < 0) {
            throw new RequestException(
                    "there is no field '" + field + "'. " + Names.didYouMean(field, schema().names(), "There are"));
        }
        return columns()[index];
    }

    /**
     * Integers, decimals in units of their last digit, days or microseconds of a field, one for each row; what stands at
     * missing rows means nothing. The array is the caller's own.
     */
    public long[] longs(String field) {
        if (column(field) instanceof LongColumn longs) {
            return longs.flat() instanceof LongColumn flat ? java.util.Arrays.copyOf(flat.values(), rows) : new long[0];
        }
        throw new RequestException(
                "the field '" + field + "' is " + column(field).type().withArticle());
    }

    /** Numbers of a field, one for each row; see {@link #longs}. */
    public double[] doubles(String field) {
        if (column(field) instanceof DoubleColumn numbers) {
            return numbers.flat() instanceof DoubleColumn flat
                    ? java.util.Arrays.copyOf(flat.values(), rows)
                    : new double[0];
        }
        throw new RequestException(
                "the field '" + field + "' is " + column(field).type().withArticle());
    }

    /** Texts of a field, one for each row, null when missing. */
    public List<String> texts(String field) {
        Column column = column(field);
        if (!column.type().equals(Type.TEXT)) {
            throw new RequestException(
                    "the field '" + field + "' is " + column.type().withArticle());
        }
        return IntStream.range(0, rows).mapToObj(i -> (String) column.get(i)).toList();
    }

    /** Whether a value is kept from being shown; printed tables and data files have {@value #HIDDEN} in its place. */
    public boolean isHidden(String field, int row) {
        BitSet rows = worked.hidden().get(field);
        return rows != null && rows.get(row);
    }

    /** Whether a value rests on so few records that printed tables mark it. */
    public boolean restsOnFew(String field, int row) {
        BitSet rows = worked.few().get(field);
        return rows != null && rows.get(row);
    }

    /** What is noted at a value, in the order of the notes. */
    public List<String> notes(String field, int row) {
        if (worked.notes().isEmpty()) {
            return List.of();
        }
        return worked.notes().getOrDefault(field, java.util.Map.of()).entrySet().stream()
                .filter(n -> n.getValue().get(row))
                .map(java.util.Map.Entry::getKey)
                .toList();
    }

    /** A value as it may be shown: null when missing, {@value #HIDDEN} when hidden. */
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
                .map(f -> column(f.name()).take(numbers, numbers.length))
                .toArray(Column[]::new);
        Schema shown = new Schema(fields);
        List<ViewColumn> columns =
                view.stream().filter(v -> !without.contains(v.field())).toList();
        return new Result(name, Worked.of(shown, picked, numbers.length), List.of(), columns, notices, timings);
    }

    /** A row by its number, from 0. */
    public Row row(int number) {
        return new Row(this, java.util.Objects.checkIndex(number, rows));
    }

    @Override
    public Iterator<Row> iterator() {
        return stream().iterator();
    }

    /** The rows, in order. */
    public Stream<Row> stream() {
        return IntStream.range(0, rows).mapToObj(this::row);
    }

    /**
     * The rows as Java records, components filled by the fields of the same name.
     *
     * @throws RequestException when a component has no field or another type
     */
    public <T extends Record> List<T> as(Class<T> type) {
        return new RecordMapper<>(type, this).list();
    }

    /**
     * Writes the shown columns as delimited text: RFC 4180, unformatted values, missing empty. The file is written beside and
     * moved into place.
     *
     * @throws dev.fiesta.problem.MachineException when it cannot be written
     */
    public void writeCsv(Path file) {
        OutputFile.write(file, out -> write(out, TextStyle.CSV));
    }

    /** Writes the shown columns as delimited text in some style. */
    public void write(Appendable out, TextStyle style) throws IOException {
        List<String> fields = view.stream().map(ViewColumn::field).toList();
        int[] shown = fields.stream().mapToInt(schema()::indexOf).toArray();
        CsvWriter head = CsvWriter.part(style);
        head.header(fields);
        head.sendTo(out);
        worked.eachPart(
                (columns, from, to, before) -> {
                    CsvWriter csv = CsvWriter.part(style);
                    Column[] seen =
                            IntStream.of(shown).mapToObj(c -> columns[c]).toArray(Column[]::new);
                    int next = totalsBefore(before);
                    for (int i = from; i < to; i++) {
                        next = totals(csv, fields, next, before + i - from);
                        if (worked.hidden().isEmpty()) {
                            csv.row(seen, i);
                        } else {
                            int number = before + i - from;
                            csv.row(fields.size(), c -> shown(fields.get(c), number));
                        }
                    }
                    return csv;
                },
                part -> part.sendTo(out));
        CsvWriter end = CsvWriter.part(style);
        totals(end, fields, totalsBefore(rows), rows);
        end.sendTo(out);
    }

    /** Takes some rows that stand side by side. */
    @FunctionalInterface
    public interface PartTaker {
        /**
         * @param columns all fields in the order of the schema; what is hidden is not taken out of them
         * @param from the first row of them
         * @param to the row behind the last
         */
        void take(Column[] columns, int from, int to) throws IOException;
    }

    /** Hands all rows over in their order, part by part, so that they need not all be in memory. */
    public void eachPart(PartTaker taker) throws IOException {
        record Part(Column[] columns, int from, int to) {}
        worked.eachPart(
                (columns, from, to, before) -> new Part(columns, from, to),
                part -> taker.take(part.columns(), part.from(), part.to()));
    }

    /** How many totals stand before those of a row. */
    private int totalsBefore(int row) {
        int next = 0;
        while (next < totals.size() && totals.get(next).after() < row) {
            next++;
        }
        return next;
    }

    /** Writes the totals that stand before a row; which comes next. */
    private int totals(CsvWriter csv, List<String> fields, int first, int row) throws IOException {
        int next = first;
        for (; next < totals.size() && totals.get(next).after() == row; next++) {
            TotalRow total = totals.get(next);
            csv.row(fields.size(), c -> total.shown(fields.get(c)));
        }
        return next;
    }
}
