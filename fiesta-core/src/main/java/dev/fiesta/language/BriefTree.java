package dev.fiesta.language;

import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A whole brief as written.
 *
 * @param title the title, or null when there is no {@code brief} line
 * @param uses the briefs that it takes parameters, inputs and tables of
 * @param report the pieces of the report; null when the brief has none
 */
public record BriefTree(
        BriefText source,
        @Nullable String title,
        Settings settings,
        List<Use> uses,
        List<ParameterDef> parameters,
        List<Input> inputs,
        List<TableDef> tables,
        @Nullable List<Piece> report) {

    /**
     * @param locale locale of printed numbers, such as {@code en-IE}
     * @param localeTold whether the brief names it
     * @param weekStart first day of the week, 1 Monday to 7 Sunday
     * @param yearStart first month of the fiscal year
     * @param collate the locale whose alphabet orders texts, or null for the order of code points
     */
    public record Settings(
            String locale,
            boolean localeTold,
            int weekStart,
            int yearStart,
            @Nullable String collate) {
        public static final Settings NORMAL = new Settings("en-IE", false, 1, 1, null);
    }

    /** Another brief, by its path as written. */
    public record Use(String path, Span at) {}

    /**
     * @param type the type; a decimal without a scale has none yet
     * @param openScale whether the decimal takes the scale of its value
     * @param list whether it holds several values
     * @param value the value when none is given, or null
     * @param optional whether it may stay without a value
     * @param about what it is for, or null
     */
    public record ParameterDef(
            Ref name,
            Type type,
            boolean openScale,
            boolean list,
            @Nullable List<Expr> value,
            boolean optional,
            @Nullable String about,
            Span at) {}

    /**
     * An input: files, or a query to a database, and how to read them.
     *
     * @param paths the files; none where there is a query
     */
    public record Input(
            Ref name, List<Path> paths, @Nullable Query query, InputOptions options, List<FieldDef> fields, Span at) {

        /** The same with other fields declared. */
        public Input with(List<FieldDef> declared) {
            return new Input(name, paths, query, options, declared, at);
        }
    }

    /**
     * A query to a database.
     *
     * @param database what it is called among the connections
     * @param text the query, or null where it stands in a file
     * @param file the path of the file with the query, or null
     * @param partedBy a column by whose ranges it is read side by side, or null
     * @param parts into how many ranges
     */
    public record Query(
            Path database,
            @Nullable String text,
            @Nullable Path file,
            @Nullable Ref partedBy,
            int parts,
            Span at) {}

    /** A path or glob as written. */
    public record Path(String text, Span at) {}

    /**
     * How delimited text is laid out; null where the brief does not say.
     *
     * @param missing what stands for a missing value, besides nothing at all
     * @param aside how many records that cannot be read are set aside, or null where one ends the run
     * @param inside where in a file records stand
     */
    public record InputOptions(
            @Nullable String as,
            @Nullable String delimiter,
            @Nullable String quote,
            @Nullable String encoding,
            boolean decimalComma,
            boolean noHeader,
            int skip,
            @Nullable String comment,
            boolean quotedEmptyAsMissing,
            boolean fieldsByName,
            boolean shortRowsAsMissing,
            List<String> missing,
            boolean bracketsNegative,
            @Nullable Aside aside,
            Inside inside) {
        public static final InputOptions NONE = new InputOptions(
                null,
                null,
                null,
                null,
                false,
                false,
                0,
                null,
                false,
                false,
                false,
                List.of(),
                false,
                null,
                Inside.WHOLE);
    }

    /**
     * Where in a file records stand; null where the brief does not say.
     *
     * @param sheet the sheet of a workbook
     * @param range the cells of a sheet, {@code B4:H200}
     * @param items the list of a document whose objects are records, {@code data.items}
     * @param each the list in a record whose objects make a record each
     * @param slices the fields of lines of fixed width
     * @param fromPath whether {@code year=2026} in a path is a field
     */
    public record Inside(
            @Nullable String sheet,
            @Nullable String range,
            @Nullable String items,
            @Nullable String each,
            List<Slice> slices,
            boolean fromPath) {
        /** Nothing is told. */
        public static final Inside WHOLE = new Inside(null, null, null, null, List.of(), false);
    }

    /**
     * A field in a line of fixed width.
     *
     * @param from its first character, from 1
     * @param to its last character; {@link Integer#MAX_VALUE} for the end of the line
     */
    public record Slice(Ref name, int from, int to) {}

    /** At most so many records, or so many percent of all, are set aside. */
    public record Aside(BigDecimal most, boolean percent) {
        /** Where nothing is told. */
        public static final Aside USUAL = new Aside(BigDecimal.TEN, true);
    }

    /**
     * A field with its type.
     *
     * @param openScale whether the decimal takes the scale of its data
     * @param pattern of dates, or null
     * @param morePatterns further patterns, tried in turn
     * @param firstWins whether the first pattern decides where several read different days
     * @param without texts that are taken out before the value is read
     * @param grouped whether a single group of three digits stands apart from thousands
     * @param from the column in the file, or null for the same name
     * @param byDefault the value of empty cells, or null
     */
    public record FieldDef(
            Ref name,
            Type type,
            boolean openScale,
            @Nullable String pattern,
            @Nullable String from,
            Expr.@Nullable Literal byDefault,
            boolean badAsMissing,
            List<String> morePatterns,
            boolean firstWins,
            List<String> without,
            boolean grouped) {}

    /** A table: where it starts and its clauses. */
    public record TableDef(Ref name, Ref from, List<Clause> clauses, Span at) {}

    /** A piece of the report. */
    public sealed interface Piece permits Heading, Say, ShowTable, Figures, Chart, NewPage {
        Span at();

        /** Does what is to be done with pieces of its kind. */
        <T extends @Nullable Object> T accept(PieceVisitor<T> visitor);

        /** The table that it shows, or null. */
        default @Nullable Ref table() {
            return null;
        }

        /** The fields that it names. */
        default List<Ref> fields() {
            return List.of();
        }

        /** The title that it has itself, or null. */
        default @Nullable String title() {
            return null;
        }

        /** What stands under it, or null. */
        default @Nullable String note() {
            return null;
        }

        /** The lines across it, where it is a chart. */
        default List<Marker> lines() {
            return List.of();
        }

        /** Its texts that may have places to be filled. */
        default List<String> texts() {
            return List.of();
        }
    }

    private static List<String> known(@Nullable String... texts) {
        return Stream.of(texts).flatMap(t -> Optional.ofNullable(t).stream()).toList();
    }

    public record Heading(String text, Span at) implements Piece {
        @Override
        public <T extends @Nullable Object> T accept(PieceVisitor<T> visitor) {
            return visitor.heading(this);
        }

        @Override
        public List<String> texts() {
            return List.of(text);
        }
    }

    public record Say(String text, Span at) implements Piece {
        @Override
        public <T extends @Nullable Object> T accept(PieceVisitor<T> visitor) {
            return visitor.say(this);
        }

        @Override
        public List<String> texts() {
            return List.of(text);
        }
    }

    /**
     * @param rows the most rows shown, 0 for all
     * @param note what stands under it, or null
     */
    public record ShowTable(
            Ref table,
            @Nullable String title,
            int rows,
            @Nullable String note,
            Span at) implements Piece {
        @Override
        public <T extends @Nullable Object> T accept(PieceVisitor<T> visitor) {
            return visitor.table(this);
        }

        @Override
        public List<String> texts() {
            return known(title, note);
        }
    }

    public record Figures(
            Ref table, List<Ref> fields, @Nullable String title, Span at) implements Piece {
        @Override
        public <T extends @Nullable Object> T accept(PieceVisitor<T> visitor) {
            return visitor.figures(this);
        }

        @Override
        public List<String> texts() {
            return known(title);
        }
    }

    /**
     * @param kind {@code lines}, {@code bars} …
     * @param by the field whose values are series, or null
     * @param apart the field whose values have a chart each, or null
     */
    public record Chart(
            String kind,
            Ref table,
            Ref x,
            List<Ref> y,
            @Nullable Ref by,
            @Nullable Ref apart,
            @Nullable String title,
            ChartOptions options,
            Span at)
            implements Piece {
        @Override
        public <T extends @Nullable Object> T accept(PieceVisitor<T> visitor) {
            return visitor.chart(this);
        }

        @Override
        public List<Ref> fields() {
            List<Ref> fields = new ArrayList<>(List.of(x));
            fields.addAll(y);
            Stream.of(Optional.ofNullable(by), Optional.ofNullable(apart))
                    .flatMap(Optional::stream)
                    .forEach(fields::add);
            return fields;
        }

        @Override
        public @Nullable String note() {
            return options.note();
        }

        @Override
        public List<Marker> lines() {
            return options.lines();
        }

        @Override
        public List<String> texts() {
            List<String> texts = new ArrayList<>(known(title, options.note()));
            options.lines().forEach(l -> texts.add(l.text()));
            return texts;
        }
    }

    /**
     * What else is told of a chart.
     *
     * @param stacked whether series stand on one another
     * @param values whether the values are written
     * @param bins of a histogram, 0 for the usual number
     * @param lines that stand for a value
     * @param note what stands under it, or null
     */
    public record ChartOptions(
            boolean log,
            boolean stacked,
            boolean values,
            int bins,
            List<Marker> lines,
            @Nullable String note) {}

    /**
     * A line across a chart, at a value, a parameter, or a field of the first row of a table: one of them.
     *
     * @param text that it is named by
     */
    public record Marker(
            String text,
            @Nullable Object value,
            @Nullable Ref parameter,
            @Nullable Ref table,
            @Nullable Ref field) {}

    public record NewPage(Span at) implements Piece {
        @Override
        public <T extends @Nullable Object> T accept(PieceVisitor<T> visitor) {
            return visitor.newPage(this);
        }
    }
}
