package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TimePattern;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import dev.fiesta.value.Values;
import dev.fiesta.value.WrittenNumber;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.function.Function;
import java.util.function.LongSupplier;
import org.jspecify.annotations.Nullable;

/** Reads one field of the rows of a block into a column. Belongs to one worker; texts keep their codes from block to block. */
final class CellReader {
    /** A cell that cannot be read. */
    static final class Bad extends RuntimeException {
        private static final long serialVersionUID = 1L;
        final int offset;
        final transient FieldSpec field;
        final String value;
        final transient Type seen;
        private final transient List<String> patterns;

        Bad(int offset, FieldSpec field, String value, Type seen) {
            this(offset, field, value, seen, List.of());
        }

        /** @param patterns two that read it as different days, or none */
        Bad(int offset, FieldSpec field, String value, Type seen, List<String> patterns) {
            super(value, null, false, false);
            this.patterns = List.copyOf(patterns);
            this.offset = offset;
            this.field = field;
            this.value = value;
            this.seen = seen;
        }

        /**
         * What comes of it: the read starts again with a wider type, or it fails.
         *
         * @param wider the source with a field changed
         * @param counted what records are counted in: lines, rows of a sheet …
         * @param place counts
         */
        RuntimeException told(
                Source source, Function<FieldSpec, Source> wider, String file, String counted, LongSupplier place) {
            Type both = CellType.wider(field.type(), seen);
            if (!field.declared() && both.isNumeric() && !both.equals(field.type())) {
                Source.Widening widening = new Source.Widening(field.name(), field.type(), both);
                return new Source.Widened(source, wider.apply(field.as(both)), List.of(widening));
            }
            long line = place.getAsLong();
            return new DataException(
                    file + ", " + counted + " " + line + ": field " + field.name() + ": " + why(),
                    file,
                    line,
                    field.name(),
                    value);
        }

        /** The value as it is shown. */
        String shown() {
            return "'" + cut(value) + "'";
        }

        static String cut(String value) {
            return value.length() > 60 ? value.substring(0, 59) + "…" : value;
        }

        private String why() {
            if (!patterns.isEmpty()) {
                return "'" + cut(value) + "' is one day written " + patterns.get(0) + " and another written "
                        + patterns.get(1) + ".\n  Repair the line, leave one pattern out, or add 'first pattern wins'.";
            }
            if (field.type().kind() == Kind.TEXT) {
                return "'" + value + "' holds bytes that are not UTF-8.\n  "
                        + "Tell the input its encoding, such as encoding 'windows-1252', or repair the line.";
            }
            String shown = cut(value);
            String type = field.type().withArticle();
            String plain = field.type().scale() > 0 ? type.replaceAll("\\(.*", "") : type;
            String declaration =
                    field.name() + " " + field.type() + (field.pattern() == null ? "" : " '" + field.pattern() + "'");
            String meant = field.pattern() == null ? null : TimePattern.meant(field.pattern());
            if (meant != null) {
                return "'" + shown + "' is not " + plain + " written " + field.pattern()
                        + ".\n  In a pattern yyyy is the year, "
                        + "MM the month, dd the day, HH the hour and mm the minute: '" + meant + "'.";
            }
            String suggestion = field.declared()
                    ? "The field was declared"
                            + declaration.substring(field.name().length()) + ". Repair the line, or declare '"
                            + declaration + " bad as missing'."
                    : "The field looked like " + type + " elsewhere. Repair the line, or declare '" + declaration
                            + " bad as missing' or '" + field.name() + " text'.";
            if (!field.rules().patterns().isEmpty()) {
                List<String> all = new ArrayList<>(List.of(java.util.Objects.requireNonNull(field.pattern())));
                all.addAll(field.rules().patterns());
                String last = all.remove(all.size() - 1);
                return "'" + shown + "' is not " + plain + " written " + String.join(", ", all) + " or " + last
                        + ".\n  Repair the line, add its pattern, or 'bad as missing'.";
            }
            String fits = seen.isExact() && field.type().isExact() ? "does not fit " + type : "is not " + plain;
            return "'" + shown + "' " + fits + ".\n  " + suggestion;
        }
    }

    /** Texts that hardly repeat get a new dictionary beyond this size: a small one is looked up sooner. */
    private static final int MOST_TEXTS = 1 << 16;

    /** They hardly repeat where fewer than one cell in so many shows a text that was met before. */
    private static final int HARDLY = 64;

    private static final int PART_OF_HEAP = 32;
    private static final int FEWEST_BYTES = 1 << 16;

    private final FieldSpec field;
    private final Dialect dialect;
    private final byte[][] missing;
    private final @Nullable TimePattern pattern;
    private final List<TimePattern> morePatterns = new ArrayList<>();
    private final @Nullable WrittenNumber written;
    private final long mostBytes;
    private Counted counted = (kind, spec, offset, value) -> {};
    private NearTexts texts = new NearTexts(new Dictionary());
    private long lookedUp;
    private int checked;
    private @Nullable BitSet broken;
    private byte[] scratch = new byte[64];
    private byte[] from = new byte[0];
    private int start;
    private int end;
    private boolean quoted;

    /** Takes note of a cell that is counted. */
    @FunctionalInterface
    interface Counted {
        /** @param offset where the cell starts in the bytes handed over */
        void note(Notices.Kind kind, FieldSpec field, int offset, String value);
    }

    /** @param texts how many fields of texts share the memory of a worker for them */
    CellReader(FieldSpec field, Dialect dialect, int texts) {
        this.mostBytes = Math.max(FEWEST_BYTES, Runtime.getRuntime().maxMemory() / PART_OF_HEAP / Math.max(1, texts));
        this.field = field;
        this.dialect = dialect;
        this.missing = dialect.missingBytes();
        boolean time = field.pattern() != null;
        this.pattern = time
                ? TimePattern.of(
                        java.util.Objects.requireNonNull(field.pattern()),
                        field.type().kind() != Kind.DATE,
                        field.rules().language())
                : null;
        field.rules()
                .patterns()
                .forEach(p -> morePatterns.add(TimePattern.of(
                        p, field.type().kind() != Kind.DATE, field.rules().language())));
        boolean told = field.declared() && !field.openScale();
        boolean form = field.type().isNumeric() && (told || dialect.decimalComma());
        this.written = form ? written(field, dialect) : null;
    }

    /** @param cell the place of the field in its row, or -1 when the file lacks it */
    Column read(byte[] bytes, Cells cells, int cell, int @Nullable [] rows, int count, Counted counted) {
        this.counted = counted;
        if (cell < 0) {
            return Column.missing(field.type(), count);
        }
        return switch (field.type().kind()) {
            case TEXT -> texts(bytes, cells, cell, rows, count);
            case REAL -> numbers(bytes, cells, cell, rows, count);
            case TRUTH -> truths(bytes, cells, cell, rows, count);
            case INTEGER, DECIMAL -> exact(bytes, cells, cell, rows, count);
            default -> times(bytes, cells, cell, rows, count);
        };
    }

    private Column exact(byte[] bytes, Cells cells, int cell, int @Nullable [] rows, int count) {
        long[] values = new long[count];
        long[] valid = null;
        int scale = field.type().scale();
        boolean plain = !dialect.decimalComma() && missing.length == 0;
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            int s = cells.start(row, cell);
            int e = cells.end(row, cell);
            long value = plain && s < e ? Numbers.exact(bytes, s, e, scale) : Numbers.BAD;
            if (value == Numbers.BAD) {
                value = carefully(bytes, s, e) ? exactCarefully(s) : Numbers.BAD;
                if (value == Numbers.BAD) {
                    if (field.byDefault() != null && isEmpty(bytes, s, e)) {
                        value = Values.toLong(field.type(), field.byDefault());
                    } else {
                        valid = Validity.without(valid, count, i);
                    }
                }
            }
            values[i] = value;
        }
        return new LongColumn(field.type(), values, count, valid);
    }

    /** A cell with blanks, quotes or a decimal comma; {@link Numbers#BAD} when it became missing. */
    private long exactCarefully(int offset) {
        if (written != null && !asWritten(written)) {
            return bad(offset, Numbers.BAD, Type.TEXT);
        }
        long value = Numbers.exact(from, start, end, field.type().scale());
        if (value == Numbers.BAD && field.type().kind() == Kind.INTEGER) {
            value = Numbers.wide(from, start, end);
        }
        return value == Numbers.BAD ? bad(offset, Numbers.BAD) : value;
    }

    private Column numbers(byte[] bytes, Cells cells, int cell, int @Nullable [] rows, int count) {
        double[] values = new double[count];
        long[] valid = null;
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            int s = cells.start(row, cell);
            int e = cells.end(row, cell);
            if (!carefully(bytes, s, e)) {
                if (field.byDefault() instanceof Number number && isEmpty(bytes, s, e)) {
                    values[i] = number.doubleValue();
                } else {
                    valid = Validity.without(valid, count, i);
                }
                continue;
            }
            boolean good = written == null || asWritten(written);
            double value = good ? Numbers.number(from, start, end) : Double.NaN;
            if (Double.isNaN(value)) {
                bad(s, 0, good ? seen() : Type.TEXT);
                valid = Validity.without(valid, count, i);
            } else {
                values[i] = value;
                if (!field.declared() && isLong()) {
                    String shown = new String(from, start, end - start, StandardCharsets.UTF_8);
                    counted.note(Notices.Kind.LONG_NUMBERS, field, s, Bad.cut(shown));
                }
            }
        }
        return new DoubleColumn(values, count, valid);
    }

    private static WrittenNumber written(FieldSpec field, Dialect dialect) {
        CellRules rules = field.rules();
        return field.declared()
                ? new WrittenNumber(
                        dialect.decimalComma(), dialect.bracketsNegative(), rules.grouped(), rules.without())
                : WrittenNumber.workedOut();
    }

    /** Points at the number that a cell writes in its own way; false, and left as it is, where it writes none. */
    private boolean asWritten(WrittenNumber form) {
        if (form.isPlain(from, start, end)) {
            return true;
        }
        String plain = form.plain(new String(from, start, end - start, StandardCharsets.UTF_8));
        if (plain == null) {
            return false;
        }
        from = plain.getBytes(StandardCharsets.UTF_8);
        start = 0;
        end = from.length;
        return true;
    }

    /** Whether a number is written out with more digits than a decimal has. */
    private boolean isLong() {
        int digits = 0;
        for (int i = start; i < end; i++) {
            if ((from[i] | 32) == 'e') {
                return false;
            }
            digits += from[i] >= '0' && from[i] <= '9' ? 1 : 0;
        }
        return digits > Type.MOST_DIGITS;
    }

    private Column times(byte[] bytes, Cells cells, int cell, int @Nullable [] rows, int count) {
        long[] values = new long[count];
        long[] valid = null;
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            int s = cells.start(row, cell);
            int e = cells.end(row, cell);
            long value = TimePattern.NONE;
            if (carefully(bytes, s, e)) {
                value = time(s);
                if (value == TimePattern.NONE) {
                    bad(s, 0);
                }
            } else if (field.byDefault() != null && isEmpty(bytes, s, e)) {
                value = Values.toLong(field.type(), field.byDefault());
            }
            if (value == TimePattern.NONE) {
                valid = Validity.without(valid, count, i);
            } else {
                values[i] = value;
            }
        }
        return new LongColumn(field.type(), values, count, valid);
    }

    private long time(int offset) {
        if (pattern != null) {
            return byPatterns(pattern, offset);
        }
        return switch (field.type().kind()) {
            case DATE -> TimePattern.isoDate(from, start, end);
            case DATETIME -> TimePattern.isoDateTime(from, start, end);
            case INSTANT -> TimePattern.isoInstant(from, start, end);
            default -> TimePattern.NONE;
        };
    }

    /** What the first pattern that fits reads; where two read different days, nobody can tell which is meant. */
    private long byPatterns(TimePattern first, int offset) {
        long value = first.parse(from, start, end);
        int by = value == TimePattern.NONE ? -1 : 0;
        for (int p = 0; p < morePatterns.size(); p++) {
            long other = morePatterns.get(p).parse(from, start, end);
            if (other != TimePattern.NONE && by >= 0 && other != value) {
                unclear(by, p + 1, offset);
                return value;
            }
            by = by < 0 && other != TimePattern.NONE ? p + 1 : by;
            value = value == TimePattern.NONE ? other : value;
        }
        return value;
    }

    private void unclear(int one, int two, int offset) {
        String value = new String(from, start, end - start, StandardCharsets.UTF_8);
        if (field.rules().firstWins()) {
            counted.note(Notices.Kind.SEVERAL_PATTERNS, field, offset, "'" + Bad.cut(value) + "'");
            return;
        }
        throw new Bad(offset, field, value, field.type(), List.of(written(one), written(two)));
    }

    private String written(int pattern) {
        return pattern == 0
                ? java.util.Objects.requireNonNull(field.pattern())
                : field.rules().patterns().get(pattern - 1);
    }

    private Column truths(byte[] bytes, Cells cells, int cell, int @Nullable [] rows, int count) {
        long[] bits = Bits.none(count);
        long[] valid = null;
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            int s = cells.start(row, cell);
            int e = cells.end(row, cell);
            boolean there = carefully(bytes, s, e);
            boolean isTrue = there && isWord("true");
            if (!there && field.byDefault() instanceof Boolean given && isEmpty(bytes, s, e)) {
                isTrue = given;
                there = true;
            } else if (there && !isTrue && !isWord("false")) {
                bad(s, 0);
                there = false;
            }
            if (isTrue) {
                Bits.set(bits, i);
            } else if (!there) {
                valid = Validity.without(valid, count, i);
            }
        }
        return new TruthColumn(bits, count, valid);
    }

    private boolean isWord(String word) {
        boolean same = end - start == word.length();
        for (int i = 0; same && i < word.length(); i++) {
            same = (from[start + i] | 32) == word.charAt(i);
        }
        return same;
    }

    private Column texts(byte[] bytes, Cells cells, int cell, int @Nullable [] rows, int count) {
        Dictionary dictionary = texts.dictionary();
        if (dictionary.memory() > mostBytes || dictionary.size() > MOST_TEXTS && hardlyRepeat(dictionary.size())) {
            dictionary = new Dictionary();
            texts = new NearTexts(dictionary);
            lookedUp = 0;
            checked = 0;
            broken = null;
        }
        lookedUp += count;
        int[] codes = new int[count];
        long[] valid = null;
        byte quote = dialect.quote();
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            int s = cells.start(row, cell);
            int e = cells.end(row, cell);
            if (s < e && bytes[s] != quote && missing.length == 0) {
                codes[i] = code(bytes, s, e, s);
                if (codes[i] < 0) {
                    valid = Validity.without(valid, count, i);
                }
                continue;
            }
            take(bytes, s, e);
            boolean empty = start == end && (!quoted || dialect.quotedEmptyAsMissing());
            if (empty && field.byDefault() instanceof String given) {
                codes[i] = dictionary.intern(given);
            } else if (empty || isMissingWord()) {
                codes[i] = -1;
                valid = Validity.without(valid, count, i);
            } else {
                codes[i] = code(from, start, end, s);
                if (codes[i] < 0) {
                    valid = Validity.without(valid, count, i);
                }
            }
        }
        return new TextColumn(codes, dictionary, count, valid);
    }

    private boolean hardlyRepeat(int different) {
        return lookedUp - different < lookedUp / HARDLY;
    }

    /** The code of a text, or -1 when its bytes are not UTF-8; each different text is looked at once. */
    private int code(byte[] bytes, int from, int to, int offset) {
        int code = texts.intern(bytes, from, to);
        if (code >= checked) {
            checked = code + 1;
            if (!Utf8.isValid(bytes, from, to)) {
                broken = broken == null ? new BitSet() : broken;
                broken.set(code);
            }
        }
        if (broken != null && broken.get(code)) {
            this.from = bytes;
            this.start = from;
            this.end = to;
            bad(offset, 0);
            return -1;
        }
        return code;
    }

    /** Points {@link #from} at a cell's content, without its quotes. */
    private void take(byte[] bytes, int s, int e) {
        quoted = s < e && bytes[s] == dialect.quote();
        from = bytes;
        start = s;
        end = Math.max(s, e);
        if (quoted) {
            unquote(bytes, s, e);
        }
    }

    private void unquote(byte[] bytes, int s, int e) {
        byte quote = dialect.quote();
        if (scratch.length < e - s) {
            scratch = new byte[(e - s) * 2];
        }
        int length = 0;
        boolean inside = true;
        for (int i = s + 1; i < e; i++) {
            if (bytes[i] == quote && inside) {
                if (i + 1 < e && bytes[i + 1] == quote) {
                    i++;
                } else {
                    inside = false;
                    continue;
                }
            }
            scratch[length++] = bytes[i];
        }
        from = scratch;
        start = 0;
        end = length;
    }

    /** As {@link #take}, for values that are not texts: trimmed, and without what is taken out. False when nothing is there. */
    private boolean carefully(byte[] bytes, int s, int e) {
        if (isEmpty(bytes, s, e)) {
            return false;
        }
        if (written != null && !field.rules().without().isEmpty()) {
            from = written.bare(new String(from, start, end - start, StandardCharsets.UTF_8))
                    .getBytes(StandardCharsets.UTF_8);
            start = 0;
            end = from.length; // a currency without an amount is no empty cell: it is told
        }
        return !isMissingWord();
    }

    private boolean isEmpty(byte[] bytes, int s, int e) {
        take(bytes, s, e);
        while (start < end && from[start] == ' ') {
            start++;
        }
        while (end > start && from[end - 1] == ' ') {
            end--;
        }
        return start == end;
    }

    private boolean isMissingWord() {
        return missing.length > 0 && isOneOfMissing();
    }

    private boolean isOneOfMissing() {
        for (byte[] word : missing) {
            boolean same = end - start == word.length;
            for (int i = 0; same && i < word.length; i++) {
                same = from[start + i] == word[i];
            }
            if (same) {
                return true;
            }
        }
        return false;
    }

    /** A value that cannot be read: missing and counted where the brief says so, else told. */
    private long bad(int offset, long result) {
        return bad(offset, result, seen());
    }

    private Type seen() {
        return CellType.of(from, start, end);
    }

    private long bad(int offset, long result, Type seen) {
        Type wider = CellType.wider(field.type(), seen);
        boolean mayWiden = !field.declared() && wider.isNumeric() && !wider.equals(field.type());
        String value = new String(from, start, end - start, StandardCharsets.UTF_8);
        if (field.badAsMissing() && !mayWiden) {
            counted.note(Notices.Kind.BAD_AS_MISSING, field, offset, "'" + Bad.cut(value) + "'");
            return result;
        }
        throw new Bad(offset, field, value, seen);
    }
}
