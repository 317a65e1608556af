package dev.fiesta.value;

import java.util.Comparator;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Numbers as people write them: {@code € 1.234,50}, {@code (12.50)}, {@code 1 234 567}. Groups of exactly three digits may stand apart by
 * the other mark, by a plain, fixed or thin blank, or by an apostrophe; a single group with nothing behind it, set apart by the mark
 * that others write before decimals, may be either and is no number unless that was told.
 */
public final class WrittenNumber {
    private static final String APOSTROPHES = "'\u2019";
    private static final String BLANKS = " \u00A0\u2009\u202F";
    private static final Pattern EXPONENT = Pattern.compile("[eE][-+]?\\d+$");
    private static final WrittenNumber WORKED_OUT = new WrittenNumber(true, false, true, List.of(), "");

    private final char mark;
    private final char other;
    private final boolean brackets;
    private final boolean grouped;
    private final List<String> without;
    private final String between;

    /**
     * @param decimalComma whether the comma stands before decimals, else the point
     * @param brackets whether brackets, or a sign behind, make a number negative
     * @param grouped whether a single group with nothing behind it is one of thousands
     * @param without texts that are taken out of a cell before it is read
     */
    public WrittenNumber(boolean decimalComma, boolean brackets, boolean grouped, List<String> without) {
        this(decimalComma, brackets, grouped, without, BLANKS + APOSTROPHES);
    }

    /** @param between what groups may stand apart by besides the other mark */
    private WrittenNumber(
            boolean decimalComma, boolean brackets, boolean grouped, List<String> without, String between) {
        this.mark = decimalComma ? ',' : '.';
        this.other = decimalComma ? '.' : ',';
        this.brackets = brackets;
        this.grouped = grouped;
        // The longer first: one may be a part of another.
        this.without = without.stream()
                .sorted(Comparator.comparing(String::length).reversed())
                .toList();
        this.between = between;
    }

    /** As people write numbers in a locale. */
    public static WrittenNumber in(LocaleStyle locale) {
        boolean comma = locale.point().equals(",");
        return new WrittenNumber(comma, false, locale.group().equals(comma ? "." : ","), List.of());
    }

    /**
     * Where a type is worked out under a decimal comma, a single group may stand, as a point means nothing else there; but digits
     * between blanks are perhaps no number at all.
     */
    public static WrittenNumber workedOut() {
        return WORKED_OUT;
    }

    /** The number that a cell under a decimal comma writes, with a point; null where it writes none. */
    public static @Nullable String workedOut(String cell) {
        return WORKED_OUT.plain(cell);
    }

    /** Whether it stands there with a point already: digits, behind a sign perhaps, and nothing to be read in another way. */
    public boolean isPlain(byte[] bytes, int from, int end) {
        int digits = from < end && (bytes[from] == '-' || bytes[from] == '+') ? from + 1 : from;
        boolean plain = digits < end;
        for (int i = digits; i < end && plain; i++) {
            plain = bytes[i] >= '0' && bytes[i] <= '9';
        }
        return plain;
    }

    /** A cell without the texts that are taken out of it, and without blanks around. */
    public String bare(String cell) {
        String bare = cell;
        for (String text : without) {
            bare = bare.replace(text, "");
        }
        int from = 0;
        int to = bare.length();
        while (from < to && isBlank(bare.charAt(from))) {
            from++;
        }
        while (to > from && isBlank(bare.charAt(to - 1))) {
            to--;
        }
        return bare.substring(from, to);
    }

    /** The number with a point and nothing else, such as {@code -1234.50}; null where it is none. */
    public @Nullable String plain(String bare) {
        String text = bare;
        boolean negative = false;
        if (brackets && text.length() > 2 && text.startsWith("(") && text.endsWith(")")) {
            text = bare(text.substring(1, text.length() - 1));
            negative = true;
        } else if (brackets && text.endsWith("-")) {
            text = bare(text.substring(0, text.length() - 1));
            negative = true;
        } else if (text.startsWith("-") || text.startsWith("+")) {
            negative = text.startsWith("-");
            text = bare(text.substring(1));
        }
        String digits = digits(text);
        return digits == null ? null : (negative ? "-" : "") + digits;
    }

    private @Nullable String digits(String text) {
        Matcher exponent = EXPONENT.matcher(text);
        if (exponent.find()) {
            String mantissa = text.substring(0, exponent.start());
            return isDigits(mantissa.replaceFirst(String.valueOf(mark == '.' ? "\\." : mark), ""))
                            && !mantissa.isEmpty()
                    ? mantissa.replace(mark, '.') + exponent.group()
                    : null;
        }
        int point = text.indexOf(mark);
        String whole = point < 0 ? text : text.substring(0, point);
        String behind = point < 0 ? "" : text.substring(point + 1);
        if (point >= 0 && (behind.isEmpty() || !isDigits(behind))) {
            return null;
        }
        String joined = joined(whole, point >= 0);
        return joined == null || (joined.isEmpty() && point < 0)
                ? null
                : (joined.isEmpty() ? "0" : joined) + (point < 0 ? "" : "." + behind);
    }

    /** Groups of digits as one; null when they are none. */
    private @Nullable String joined(String whole, boolean decimals) {
        if (isDigits(whole)) {
            return whole;
        }
        char apart = 0;
        int groups = 0;
        StringBuilder digits = new StringBuilder();
        int inGroup = 0;
        for (int i = 0; i < whole.length(); i++) {
            char c = whole.charAt(i);
            if (c >= '0' && c <= '9') {
                digits.append(c);
                inGroup++;
                continue;
            }
            boolean first = groups == 0;
            boolean mayPart = c == other || between.indexOf(c) >= 0;
            boolean fits = first ? inGroup >= 1 && inGroup <= 3 : inGroup == 3 && c == apart;
            if (!mayPart || !fits) {
                return null;
            }
            apart = c;
            groups++;
            inGroup = 0;
        }
        boolean unclear = groups == 1 && apart == other && !decimals && !grouped;
        return inGroup == 3 && !unclear ? digits.toString() : null;
    }

    private static boolean isDigits(String text) {
        for (int i = 0; i < text.length(); i++) {
            if (text.charAt(i) < '0' || text.charAt(i) > '9') {
                return false;
            }
        }
        return true;
    }

    private static boolean isBlank(char c) {
        return BLANKS.indexOf(c) >= 0 || c == '\t';
    }
}
