package dev.fiesta.catalogue;

import java.util.List;

/**
 * A word of the language that is neither a clause nor a function: what help says of it. It is long because each word has its entry.
 *
 * @param words the words it is found by; several where they are used together or stand for one idea
 * @param place where it stands
 * @param form how it is written
 * @param about what it does
 * @param example clauses that use it, over {@link SampleTable}, or where it stands elsewhere, lines of a brief
 */
public record WordEntry(List<String> words, Place place, String form, String about, String example) {
    /** Where a word stands. */
    public enum Place {
        /** Parts of a brief. */
        PART("Parts of a brief"),
        /** Options of an input and of its fields. */
        INPUT("Inputs and their fields"),
        /** Types of fields and parameters. */
        TYPE("Types"),
        /** Conditions and values. */
        EXPRESSION("Conditions and values"),
        /** Inside the brackets of a call that looks at many rows. */
        CALL("Inside the brackets of a call"),
        /** Behind other words of a clause. */
        CLAUSE("Inside clauses"),
        /** Formats of columns. */
        FORMAT("Formats of columns"),
        /** Pieces of the report. */
        REPORT("Pieces of the report"),
        /** Kinds of charts, and what they take. */
        CHART("Charts");

        private final String title;

        Place(String title) {
            this.title = title;
        }

        /** {@return a heading for the words of this place} */
        public String title() {
            return title;
        }
    }

    private static final List<WordEntry> ALL = List.of(
            part("brief", "brief 'title'", "The title of the report.", "brief 'Takings of the season'"),
            part(
                    "settings locale week starts year collate monday tuesday wednesday thursday friday saturday sunday",
                    "settings [locale 'pt-PT'] [week starts sunday] [year starts 4] [collate 'pt']",
                    "How numbers, months and weekdays are written, which day a week and which month a year begins with, and whose"
                            + " alphabet orders texts.",
                    "settings locale 'de-DE' week starts sunday"),
            part(
                    "use",
                    "use 'other.brief'",
                    "Parameters, inputs and tables of another brief, as if they stood here.",
                    ""),
            part(
                    "parameter list optional",
                    "parameter NAME TYPE [list] [= VALUE | optional] ['what it is for']",
                    "A value given when the brief is run: --set NAME=VALUE. It is written :NAME in expressions, {:NAME} in texts.",
                    "parameter least decimal = 15 'what a day must bring'"),
            part(
                    "input",
                    "input NAME from 'path or pattern' ['path' …] [as csv | tsv | jsonl] [OPTION …]",
                    "Where records come from.",
                    "input more from 'sales.csv' as csv missing '-'"),
            part(
                    "table from",
                    "table NAME from INPUT-OR-TABLE CLAUSE …",
                    "A named result: an input or another table, followed by clauses.",
                    "table days from sales sort day"),
            part(
                    "report",
                    "report PIECE …",
                    "What is shown, in order. Without a report every table is shown that no other table uses.",
                    "report heading 'Takings' table t"),
            input(
                    "as csv tsv jsonl json xlsx",
                    "as csv | tsv | jsonl | json | xlsx | fixed …",
                    "What the files are, whatever their names say.",
                    "as csv"),
            input(
                    "fixed",
                    "as fixed NAME FROM to TO, …, NAME from FROM",
                    "Lines whose fields stand at fixed characters, counted from 1, both ends in; the last may go to the end of the line.",
                    "as fixed site 1 to 6, rest from 7"),
            inputFrom(
                    "sheet range",
                    "[sheet 'June'] [range 'B4:H200']",
                    "Where in a workbook the table stands; 'B4' is all from there, 'B:H' some columns.",
                    "input plan from 'plan.xlsx' sheet 'June' range 'A1:B9'"),
            inputFrom(
                    "items each",
                    "[items 'data.items'] [each 'lines']",
                    "The list of a JSON document whose objects are records, and the list in a record whose objects make a record each.",
                    "input orders from 'orders.json' items 'data.orders' each 'lines'"),
            inputFrom(
                    "path",
                    "fields from path",
                    "Folders like year=2026 are fields of the records in them.",
                    "input parts from 'year=*/*.csv' fields from path"),
            inputFrom(
                    "database query parted by into",
                    "from database 'NAME' query 'SQL' | from 'FILE.sql' [parted by COLUMN into N]",
                    "The rows of a query; :name in it is the value of a parameter. Connections stand in connections.conf.",
                    ""),
            input(
                    "fields",
                    "fields NAME TYPE ['pattern'] [from \"column\"] [default VALUE] [bad as missing], …",
                    "Types of fields, and their names; others get the narrowest type that holds their values.",
                    "fields takings decimal(2) bad as missing"),
            input(
                    "from",
                    "from \"column\"",
                    "The column of the file that a field stands in, where it has another name.",
                    "fields sold date from \"day\""),
            input(
                    "default",
                    "default VALUE",
                    "Stands in for a missing value of a field.",
                    "fields takings decimal(2) default 0"),
            input(
                    "bad",
                    "bad as missing",
                    "A value that is not of the type becomes missing, and is counted.",
                    "fields takings integer bad as missing"),
            input("missing", "missing 'NA', '-'", "Texts that stand for a missing value.", "missing 'NA', '-'"),
            input("delimiter", "delimiter ';'", "What parts the cells of a line.", "delimiter ';'"),
            input("quote", "quote \"'\"", "What cells are quoted with.", "quote '|'"),
            input(
                    "quoted empty",
                    "quoted empty as missing",
                    "An empty cell in quotes is missing too, not an empty text.",
                    "quoted empty as missing"),
            input("decimal comma", "decimal comma", "Numbers are written 1.234,50.", "decimal comma delimiter ';'"),
            input(
                    "without",
                    "fields NAME TYPE without '€', 'EUR'",
                    "Texts that are taken out of a number before it is read, and blanks around them.",
                    "fields takings decimal(2) without '€', 'EUR'"),
            input(
                    "grouped",
                    "fields NAME TYPE grouped",
                    "A single group of three digits stands apart from thousands: 1,234 or, under a decimal comma, 1.234.",
                    "fields takings decimal(2) grouped"),
            input("brackets negative", "brackets negative", "(12.50) and 12.50- are -12.50.", "brackets negative"),
            input(
                    "or first pattern wins",
                    "fields NAME date 'dd/MM/yyyy' or 'yyyy-MM-dd' … [first pattern wins]",
                    "Several patterns, tried in turn; a value that two read as different days ends the run, or is read by the first.",
                    "fields day date 'dd/MM/yyyy' or 'yyyy-MM-dd'"),
            input(
                    "no header",
                    "no header",
                    "The first line is a record; fields are named field_1, field_2, …",
                    "no header"),
            input("skip", "skip N", "Lines before the header that are none of the table.", "skip 1"),
            input("comment", "comment '#'", "Lines that begin so are passed over.", "comment '#'"),
            input(
                    "short rows",
                    "short rows as missing",
                    "Lines with too few cells are filled up with missing ones.",
                    "short rows as missing"),
            input(
                    "unreadable aside",
                    "unreadable aside [at most 20 | at most 1 percent]",
                    "A record that cannot be read is set aside, in no table of the run; at most 10 percent where nothing is told.",
                    "unreadable aside at most 20"),
            input(
                    "name",
                    "fields by name",
                    "Several files are read by the names of their columns, not by their places.",
                    "fields by name"),
            input(
                    "encoding",
                    "encoding 'windows-1252'",
                    "How letters are stored, where it is not UTF-8.",
                    "encoding 'utf-8'"),
            type("integer", "Whole numbers, up to 18 digits.", "parameter n integer = 3"),
            type(
                    "decimal",
                    "decimal or decimal(2): exact numbers with so many digits after the point.",
                    "parameter price decimal(2) = 3.50"),
            type("real", "Numbers in binary, for measurements: 1.5e3. Not for money.", "parameter factor real = 1.5e3"),
            type("text", "Letters, digits and everything else, in single quotes.", "parameter site text = 'Quay'"),
            type(
                    "date",
                    "A day: 2026-05-01. In a file the pattern may be told: date 'dd.MM.yyyy'.",
                    "parameter day date = 2026-05-01"),
            type(
                    "datetime",
                    "A day and a time, without a zone: 2026-05-01T18:30.",
                    "parameter at datetime = 2026-05-01T18:30"),
            type("instant", "A point in time with its zone, read into UTC: for fields of inputs.", ""),
            type("truth", "true or false.", "parameter all_sites truth = true"),
            expression(
                    "and or not",
                    "CONDITION and | or CONDITION, not CONDITION",
                    "Conditions joined; one over a missing value is neither true nor false.",
                    "only takings > 10 and not (site = 'Quay' or site = 'Orchard')"),
            expression(
                    "between",
                    "EXPR between LOW and HIGH",
                    "From LOW to HIGH, both included.",
                    "only takings between 10 and 20"),
            expression(
                    "in",
                    "EXPR in (VALUE, …)",
                    "Whether it is one of several values, or of a list parameter: site in :sites.",
                    "only site in ('Quay', 'Meadow')"),
            expression(
                    "is missing",
                    "EXPR is [not] missing",
                    "Whether there is no value. Nothing is equal to 'missing'.",
                    "only takings is not missing"),
            expression(
                    "contains starts ends",
                    "TEXT [not] contains | starts with | ends with 'text'",
                    "Whether a text has a part.",
                    "only site starts with 'Qu'"),
            expression(
                    "matches",
                    "TEXT [not] matches 'pattern'",
                    "Whether the whole text follows a regular expression.",
                    "only site matches '[A-M].*'"),
            expression(
                    "if then else",
                    "if CONDITION then VALUE [else if …] [else VALUE]",
                    "One of several values; without 'else' missing.",
                    "add size = if takings >= 20 then 'large' else 'small'"),
            expression(
                    "reword",
                    "reword(FIELD, 'old' as 'new', … [, else 'rest'])",
                    "Other words for values of a field.",
                    "add place = reword(site, 'Quay' as 'Harbour', 'Meadow' as 'Field')"),
            expression("true false", "true, false", "The two values of a condition.", "add open = true"),
            expression(
                    "file_name",
                    "file_name",
                    "The file that a record comes from, of every input, without being declared.",
                    "per file_name"),
            expression(
                    "day days week weeks month months quarter quarters year years hour hours minute minutes",
                    "DATE + N days | weeks | months | quarters | years | hours | minutes",
                    "A date moved by a span of time; months end on their last day.",
                    "add later = day + 1 month"),
            call(
                    "only",
                    "f(args only CONDITION …)",
                    "The rows that a call looks at.",
                    "per site give large = count(only takings >= 20)"),
            call(
                    "within all",
                    "f(args within KEY, …), within all",
                    "The rows that a call looks at together; 'within all' is the whole table.",
                    "add part = share(takings within site)"),
            call(
                    "along",
                    "f(args along EXPR [desc], …)",
                    "The order in which a call walks.",
                    "add place = rank(along takings desc)"),
            call(
                    "running",
                    "along KEY running",
                    "A frame from the start to this row: running totals.",
                    "add so_far = sum(takings along day running)"),
            call(
                    "last next",
                    "along KEY last N | next N | last 7 days",
                    "A frame of so many rows, or of a span of time, up to this row or from it.",
                    "add moving = mean(takings along day last 3)"),
            call(
                    "start here before after end from to",
                    "along KEY from start | here | N before to here | end | N after",
                    "A frame from one place to another.",
                    "add around = mean(takings along day from 1 before to 1 after)"),
            call(
                    "full",
                    "FRAME full",
                    "Missing unless the frame lies whole inside its partition.",
                    "add moving = mean(takings along day last 3 full)"),
            call(
                    "at least",
                    "FRAME at least N",
                    "Missing unless the frame has so many values.",
                    "add moving = mean(takings along day last 3 at least 2)"),
            clause(
                    "give each numbers",
                    "per KEY, … give NAME = EXPR, …, each(FUNCTION, … of FIELD, …)",
                    "The figures of the groups; 'each' stands for several, 'of numbers' for all numeric fields.",
                    "per site give sales = count(), each(sum, mean of takings)"),
            clause(
                    "against",
                    "per KEY against KEY [in (VALUE, …)] [rest as 'Rest'] [with 0]",
                    "A second set of keys, laid out as columns.",
                    "per day against site give total = sum(takings)"),
            clause(
                    "rest",
                    "rest as 'Rest'",
                    "All that 'first … along' or a list of columns leaves out, as one more row or column.",
                    "per site give total = sum(takings) first 1 along total desc rest as 'Rest'"),
            clause(
                    "at most",
                    "fill … at most N | at most N UNIT",
                    "How far away a value may be known: so many rows, or a span of time.",
                    "fill takings along day at most 2 days"),
            clause(
                    "with",
                    "with 0",
                    "What stands where there are no records, for counts and sums.",
                    "per day against site with 0 give total = sum(takings)"),
            clause(
                    "desc asc",
                    "KEY [desc]",
                    "From the greatest to the least; without it, or with 'asc', the other way.",
                    "sort takings desc"),
            clause(
                    "every",
                    "gapless FIELD every N UNIT",
                    "The length of a period.",
                    "per day give total = sum(takings) gapless day every 1 day"),
            clause(
                    "into",
                    "turn FIELD, … into NAME, VALUE",
                    "The fields that names and values go to.",
                    "add a = 1, b = 2 turn a, b into what, n"),
            clause(
                    "by",
                    "totals by KEY, …",
                    "A subtotal for each value of the first keys.",
                    "per site, day give total = sum(takings) totals by site"),
            clause(
                    "percent seed",
                    "sample N percent seed N",
                    "A part of the rows; other numbers choose others.",
                    "sample 40 percent seed 3"),
            clause(
                    "bring on each latest required matched unmatched also",
                    "match [each] TABLE on KEY [, latest THEIRS <= OURS] [bring FIELD, …] [required | matched only | unmatched only | also unmatched]",
                    "How another table is looked up: by which keys, what it brings, and what becomes of rows without a match.",
                    ""),
            clause(
                    "unique rows adds up warn",
                    "check unique FIELD, … | check rows >= N | check FIELD adds up to TABLE.FIELD | … or warn",
                    "Other things that must hold; 'or warn' tells it and goes on.",
                    "check rows >= 1 or warn"),
            clause(
                    "where",
                    "hide FIGURE, … where CONDITION",
                    "The rows in which figures are hidden.",
                    "per site give sales = count() hide sales where sales < 3"),
            clause("others", "columns FIELD, others", "All columns that are not named.", "columns takings, others"),
            format(
                    "money",
                    "money ['EUR']",
                    "Two digits and the locale's grouping, with a currency where one is told.",
                    "money 'EUR'"),
            format("number", "number N", "So many digits after the point.", "number 1"),
            format("integer", "integer", "No digits after the point.", "integer"),
            format("percent", "percent N", "0.125 is shown as 12.5%.", "percent 1"),
            format("thousands", "thousands N", "12,500 is shown as 12.5.", "thousands 1"),
            format("text", "text", "As it stands in data files.", "text"),
            format("bar", "bar", "A bar in the cell, from a middle line where there are negative values.", "bar"),
            format("shade", "shade", "A colour by value.", "shade"),
            format("left right", "left | right", "Where the cells stand.", "left"),
            format("mark few", "mark few N", "Marks figures of groups of fewer records.", ""),
            new WordEntry(
                    List.of("date"),
                    Place.FORMAT,
                    "date 'd MMM'",
                    "How dates are written.",
                    "columns day date 'd MMM'"),
            new WordEntry(
                    List.of("bands"),
                    Place.FORMAT,
                    "bands",
                    "The number a band begins with, shown as '5 to 20'.",
                    "add b = band(takings, 15) columns b bands"),
            new WordEntry(
                    List.of("course"),
                    Place.FORMAT,
                    "course(TABLE.FIGURE along FIELD [on KEY, …]) ['Title']",
                    "A small line in each row: a figure of another table along its periods. The keys of that table but for the one that it"
                            + " runs along tell which of its rows belong to a row; 'on' names them where this table has further keys.",
                    ""),
            new WordEntry(
                    List.of("note"),
                    Place.FORMAT,
                    "note 'text' [where CONDITION]",
                    "A note at cells, or at those for which a condition holds; its text stands under the table.",
                    "columns day, takings note 'A short day.' where takings < 20"),
            report(
                    "heading",
                    "heading 'text'",
                    "A heading; headings give the report its contents list.",
                    "heading 'Takings'"),
            report(
                    "say",
                    "say 'text with {:parameter}, {table.rows} or {table.field}'",
                    "A paragraph; what stands in braces is filled in.",
                    "say 'There are {t.rows} days.'"),
            report(
                    "table rows",
                    "table NAME ['Title'] [rows N] [note 'text']",
                    "A table, or its first rows; a note stands under it.",
                    "table t 'Days' rows 3 note 'Net of fees.'"),
            report(
                    "figures",
                    "figures TABLE FIELD, … ['Title']",
                    "Single numbers of the first row, set large.",
                    "figures t takings 'First day'"),
            report("new page", "new page", "Begins a page on paper.", "heading 'One' new page heading 'Two'"),
            chart("lines", "A line for each series."),
            chart("areas", "Areas, also stacked."),
            chart("columns", "Upright bars, also stacked."),
            chart("bars", "Lying bars in the order of the table: sort it to rank them."),
            chart("points", "A point for each row."),
            new WordEntry(
                    List.of("histogram", "bins"),
                    Place.CHART,
                    "chart histogram TABLE x FIELD [bins N] ['Title']",
                    "How many rows have values of each size.",
                    "report chart histogram t x takings bins 5"),
            new WordEntry(
                    List.of("boxes"),
                    Place.CHART,
                    "chart boxes TABLE x FIELD y FIELD ['Title']",
                    "The spread of values for each x: quartiles, median, the farthest.",
                    "report chart boxes t x site y takings"),
            new WordEntry(
                    List.of("heat"),
                    Place.CHART,
                    "chart heat TABLE x FIELD y FIELD by FIELD ['Title']",
                    "A colour for each pair of keys.",
                    "report chart heat t x day y takings by site"),
            new WordEntry(
                    List.of("apart"),
                    Place.CHART,
                    "chart KIND TABLE x FIELD y FIELD apart FIELD",
                    "A small chart for each value of a field, side by side, with the same axes.",
                    "report chart lines t x day y takings apart site 'Each site'"),
            new WordEntry(
                    List.of("line", "at"),
                    Place.CHART,
                    "chart … line 'text' at VALUE, …",
                    "A line across the chart at a number, a parameter or a field of a table's first row; upright at a date.",
                    "report chart columns t x site y takings line 'Target' at 20, 'First' at t.takings"),
            new WordEntry(
                    List.of("values"),
                    Place.CHART,
                    "chart … values",
                    "Writes the values at bars, columns and points, where these are few.",
                    "report chart bars t x site y takings values"),
            new WordEntry(
                    List.of("note"),
                    Place.CHART,
                    "chart … note 'text'",
                    "What stands under a chart.",
                    "report chart bars t x site y takings note 'Net of fees.'"),
            new WordEntry(
                    List.of("chart", "x", "y", "by", "log", "stacked"),
                    Place.CHART,
                    "chart KIND TABLE x FIELD y FIELD, … [by FIELD] [apart FIELD] ['Title'] [log] [stacked] [values] [line …] [note …]",
                    "A chart. 'by' makes a series of each value, 'log' a logarithmic axis; kinds: lines, areas, columns, bars, points,"
                            + " histogram, boxes, heat.",
                    "report chart columns t x day y takings by site 'Takings' stacked"));

    private static WordEntry of(String words, Place place, String form, String about, String example) {
        return new WordEntry(List.of(words.split(" ")), place, form, about, example);
    }

    private static WordEntry part(String words, String form, String about, String example) {
        return of(words, Place.PART, form, about, example);
    }

    private static WordEntry input(String words, String form, String about, String option) {
        return of(words, Place.INPUT, form, about, "input more from 'sales.csv' " + option);
    }

    private static WordEntry inputFrom(String words, String form, String about, String example) {
        return of(words, Place.INPUT, form, about, example);
    }

    private static WordEntry type(String word, String about, String example) {
        return of(word, Place.TYPE, word.equals("decimal") ? "decimal[(DIGITS)]" : word, about, example);
    }

    private static WordEntry expression(String words, String form, String about, String example) {
        return of(words, Place.EXPRESSION, form, about, example);
    }

    private static WordEntry call(String words, String form, String about, String example) {
        return of(words, Place.CALL, form, about, example);
    }

    private static WordEntry clause(String words, String form, String about, String example) {
        return of(words, Place.CLAUSE, form, about, example);
    }

    private static WordEntry format(String words, String form, String about, String format) {
        return of(words, Place.FORMAT, form, about, "columns takings" + (format.isEmpty() ? "" : " " + format));
    }

    private static WordEntry report(String words, String form, String about, String piece) {
        return of(words, Place.REPORT, form, about, "report " + piece);
    }

    private static WordEntry chart(String word, String about) {
        return of(
                word,
                Place.CHART,
                "chart " + word + " TABLE x FIELD y FIELD, … [by FIELD] ['Title']",
                about,
                "report chart " + word + " t x day y takings");
    }

    /** {@return all words, in the order of their places} */
    public static List<WordEntry> all() {
        return ALL;
    }
}
