package dev.fiesta.catalogue;

import java.util.List;

/**
 * A clause of the language: what help and the reference say of it.
 *
 * @param name its keyword
 * @param form how it is written
 * @param about what it does
 * @param example clauses that use it, over {@link SampleTable}
 */
public record ClauseEntry(String name, String form, String about, String example) {
    private static final List<ClauseEntry> ALL = List.of(
            new ClauseEntry(
                    "only",
                    "only CONDITION",
                    "Keeps the rows, records or groups, for which a condition is true: its place says which.",
                    "only takings >= 20"),
            new ClauseEntry(
                    "add",
                    "add NAME = EXPR, …",
                    "Further fields, one value for each row; later ones see earlier ones, a known name is replaced where it"
                            + " stands.",
                    "add double = takings * 2, part = share(takings within site)"),
            new ClauseEntry(
                    "per",
                    "per KEY, … [against KEY [in (v, …)] [rest as 'Rest'] [with 0]] give FIGURE, …",
                    "Groups and their figures. A key is a field or 'NAME = EXPR'; 'per all' makes one group; without"
                            + " 'give' the different keys with their count. A bare call names itself: amount_sum;"
                            + " 'each(sum, mean of amount, 'fee_*')' stands for several. 'against' lays keys out as columns.",
                    "per site give sales = count(), total = sum(takings)"),
            new ClauseEntry(
                    "totals",
                    "totals [by KEY, …]",
                    "Total rows, worked out again from the records behind the rows that stand there; no other clause sees"
                            + " them.",
                    "per site give total = sum(takings) totals"),
            new ClauseEntry(
                    "sort",
                    "sort EXPR [desc], …",
                    "Puts rows in order; equal ones stay as they are, missing stands last.",
                    "sort takings desc"),
            new ClauseEntry(
                    "first",
                    "first N [within KEY, …] [along EXPR [desc], … [rest as 'Rest']]",
                    "The first rows as they stand, or along an order, of the whole or of each partition: 'along takings desc' are"
                            + " the greatest. 'rest as' makes one more row of all others, worked out from their records.",
                    "first 1 within site along takings desc"),
            new ClauseEntry(
                    "distinct", "distinct [FIELD, …]", "Keeps the first row of each combination.", "distinct site"),
            new ClauseEntry(
                    "match",
                    "match [each] TABLE on KEY [= THEIRS], … [, latest THEIRS <= OURS] [bring FIELD [as NAME], …]"
                            + " [required | matched only | unmatched only | also unmatched]",
                    "Looks fields up in another table. A key that stands twice there is an error, unless 'each' asks for a"
                            + " row for every match.",
                    ""),
            new ClauseEntry("append", "append TABLE, …", "Rows of other tables below, fields met by name.", ""),
            new ClauseEntry(
                    "gapless",
                    "gapless FIELD [every 1 week] [within KEY, …] [from A to B | from TABLE] [with 0]",
                    "Rows for the periods, or other values, that have none.",
                    "per day give total = sum(takings) gapless day every 1 day with 0"),
            new ClauseEntry(
                    "fill",
                    "fill FIELD, … [within KEY, …] along KEY [from before | from after] [at most 3 | at most 3 weeks]",
                    "A missing value takes the last known one before it, or the first after it, not farther away than so many rows or"
                            + " such a span of time; how many is told.",
                    "fill takings within site along day at most 2"),
            new ClauseEntry(
                    "turn",
                    "turn FIELD, … into NAME, VALUE",
                    "Columns into rows: one for each field, with its name and its value.",
                    "add a = 1, b = 2 turn a, b into what, n"),
            new ClauseEntry("rename", "rename OLD as NEW, …", "Other names.", "rename takings as price"),
            new ClauseEntry("drop", "drop FIELD, …", "Fewer fields.", "drop day"),
            new ClauseEntry(
                    "sample",
                    "sample N [percent] [within KEY, …] [seed N]",
                    "Rows by chance, so many or such a part, the same ones each time: chance is a hash of the seed and of what"
                            + " the row is.",
                    "sample 2 seed 7"),
            new ClauseEntry(
                    "shuffle", "shuffle [seed N]", "Rows in an order by chance, the same each time.", "shuffle"),
            new ClauseEntry(
                    "columns",
                    "columns FIELD ['Title'] [FORMAT …], …",
                    "What is shown, last but for 'check'; also 'a to d', a pattern in quotes, 'others'. Formats: money ['EUR'],"
                            + " number 2, integer, percent 1, thousands, date 'd MMM', text, bands, bar, shade, left, right,"
                            + " mark few 5.",
                    "columns site 'Site', takings 'Takings' money"),
            new ClauseEntry(
                    "check",
                    "check CONDITION ['message'] [or warn], check unique FIELD, …, check rows >= 1, check FIELD adds up to"
                            + " TABLE.FIELD",
                    "What must hold, or the run fails and shows the first ten rows that do not.",
                    "check takings > 0 'a day without takings' or warn"),
            new ClauseEntry(
                    "hide",
                    "hide FIGURE, … where CONDITION",
                    "Figures that are printed as · wherever they are shown; where a total would tell a single hidden part, the"
                            + " least of the others is hidden too.",
                    "per site give sales = count() hide sales where sales < 2"));

    /** {@return all clauses, in the order of the work} */
    public static List<ClauseEntry> all() {
        return ALL;
    }
}
