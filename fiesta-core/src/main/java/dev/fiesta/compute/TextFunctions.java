package dev.fiesta.compute;

import com.google.re2j.Matcher;
import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.Entry.Family;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Functions over texts. Lengths and places count characters (code points), from 1. */
final class TextFunctions {
    private TextFunctions() {}

    static List<RowFunction> all() {
        return List.of(
                simple("upper", "The text in capitals.", "upper('Quay')", "QUAY", t -> t.toUpperCase(Locale.ROOT)),
                simple("lower", "The text in small letters.", "lower('Quay')", "quay", t -> t.toLowerCase(Locale.ROOT)),
                simple(
                        "title_case",
                        "Each word with a capital, the rest small.",
                        "title_case('old TOWN')",
                        "Old Town",
                        TextFunctions::titleCase),
                simple("trim", "The text without spaces at its ends.", "trim('  Quay ')", "Quay", String::strip),
                of("length", "length(t)", "The number of characters.", "length('Quay')", "4", args -> {
                    texts(args, 1, 1, "length(t)");
                    return Boxed.safe(Type.INTEGER, a ->
                            (long) ((String) a[0]).codePointCount(0, ((String) a[0]).length()));
                }),
                of(
                        "substring",
                        "substring(t, from[, n])",
                        "n characters from a place on, or all from there.",
                        "substring('lemonade', 1, 5)",
                        "lemon",
                        TextFunctions::substring),
                of(
                        "replace",
                        "replace(t, a, b)",
                        "The text with b wherever a stands.",
                        "replace('a-b-c', '-', ' ')",
                        "a b c",
                        args -> {
                            texts(args, 3, 3, "replace(t, a, b)");
                            return Boxed.safe(
                                    Type.TEXT,
                                    a -> ((String) a[1]).isEmpty()
                                            ? a[0]
                                            : ((String) a[0]).replace((String) a[1], (String) a[2]));
                        }),
                of(
                        "capture",
                        "capture(t, 'pattern'[, group])",
                        "What a pattern finds: its first group, or the whole; missing when nothing fits.",
                        "capture('stall 012', '([0-9]+)')",
                        "012",
                        TextFunctions::capture),
                of(
                        "split",
                        "split(t, sep, n)",
                        "The n-th part of a text cut at a separator; missing when there are fewer.",
                        "split('Quay/012', '/', 2)",
                        "012",
                        TextFunctions::split),
                of(
                        "pad_left",
                        "pad_left(t, n[, fill])",
                        "The text made n characters long with blanks, or another filling, before it.",
                        "pad_left('7', 3, '0')",
                        "007",
                        TextFunctions::padLeft),
                of(
                        "concat",
                        "concat(a, b, …)",
                        "The values as texts, one after the other; missing ones are left out.",
                        "concat('Quay', ' ', 12)",
                        "Quay 12",
                        TextFunctions::concat),
                of(
                                "place_in",
                                "place_in(t, 'a', 'b', …)",
                                "1, 2, … for the place of a text in a list; missing when it is not there.",
                                "place_in('cash', 'card', 'cash')",
                                "2",
                                TextFunctions::placeIn)
                        .comparingTexts());
    }

    private static RowFunction of(
            String name, String usage, String about, String example, String result, RowFunction.Rule rule) {
        return new RowFunction(new Entry(name, Family.TEXTS, usage, about, example, result), rule);
    }

    private static RowFunction simple(
            String name, String about, String example, String result, java.util.function.UnaryOperator<String> change) {
        String usage = name + "(t)";
        return of(name, usage, about, example, result, args -> {
            texts(args, 1, 1, usage);
            return Boxed.safe(Type.TEXT, a -> change.apply((String) a[0]));
        });
    }

    private static void texts(Arguments args, int least, int most, String usage) {
        args.expectCount(least, most, usage);
        for (int i = 0; i < args.count(); i++) {
            text(args, i);
        }
    }

    private static void text(Arguments args, int i) {
        if (args.type(i).kind() != Kind.TEXT && args.type(i).kind() != Kind.EMPTY) {
            throw new Misuse(
                    i, "'{}' is " + args.type(i).withArticle() + ", but a text is needed.", "Convert it: text({}).");
        }
    }

    private static String titleCase(String text) {
        StringBuilder out = new StringBuilder();
        boolean start = true;
        for (int c : text.toLowerCase(Locale.ROOT).codePoints().toArray()) {
            out.appendCodePoint(start ? Character.toTitleCase(c) : c);
            start = !Character.isLetterOrDigit(c) && c != '\'';
        }
        return out.toString();
    }

    private static RowFunction.Bound substring(Arguments args) {
        args.expectCount(2, 3, "substring(t, from[, n])");
        text(args, 0);
        args.expectKind(1, "the place is a whole number", Kind.INTEGER);
        if (args.count() == 3) {
            args.expectKind(2, "the length is a whole number", Kind.INTEGER);
        }
        return Boxed.safe(Type.TEXT, a -> {
            int[] points = ((String) a[0]).codePoints().toArray();
            long from = Math.max(1, (Long) a[1]) - 1;
            long count = a.length == 3 ? Math.max(0, (Long) a[2]) : points.length;
            int start = (int) Math.min(from, points.length);
            return new String(points, start, (int) Math.min(count, points.length - start));
        });
    }

    /** A pattern that matches in linear time. */
    static Pattern pattern(Arguments args, int i) {
        String text = args.textConstant(i, "The pattern");
        try {
            if (PatternSize.of(text) > PatternSize.MOST) {
                throw new Misuse(
                        i,
                        "The repetitions of the pattern, written out, are more than " + PatternSize.MOST + " signs.",
                        "Repeat less often, or without a limit: 'a+' instead of 'a{1,1000}'.");
            }
            return Pattern.compile(text);
        } catch (PatternSyntaxException e) {
            throw new Misuse(i, "This pattern cannot be read: " + e.getDescription() + ".", null);
        }
    }

    private static RowFunction.Bound capture(Arguments args) {
        args.expectCount(2, 3, "capture(t, 'pattern'[, group])");
        text(args, 0);
        Pattern pattern = pattern(args, 1);
        int groups = pattern.groupCount();
        int group = args.count() == 3 ? args.wholeConstant(2, "The group", 0, groups) : Math.min(1, groups);
        return Boxed.safe(Type.TEXT, a -> {
            Matcher matcher = pattern.matcher((String) a[0]);
            return matcher.find() ? matcher.group(group) : null;
        });
    }

    private static RowFunction.Bound split(Arguments args) {
        args.expectCount(3, 3, "split(t, sep, n)");
        text(args, 0);
        text(args, 1);
        args.expectKind(2, "the place of a part is a whole number", Kind.INTEGER);
        return Boxed.safe(Type.TEXT, a -> {
            String[] parts = ((String) a[0]).split(java.util.regex.Pattern.quote((String) a[1]), -1);
            long n = (Long) a[2];
            return n >= 1 && n <= parts.length ? parts[(int) n - 1] : null;
        });
    }

    private static RowFunction.Bound padLeft(Arguments args) {
        args.expectCount(2, 3, "pad_left(t, n[, fill])");
        text(args, 0);
        int length = args.wholeConstant(1, "The length", 0, 1000);
        String fill = args.count() == 3 ? args.textConstant(2, "The filling") : " ";
        if (fill.codePointCount(0, fill.length()) != 1) {
            throw new Misuse(2, "The filling is one character.", null);
        }
        return Boxed.safe(Type.TEXT, a -> {
            String text = (String) a[0];
            return fill.repeat(Math.max(0, length - text.codePointCount(0, text.length()))) + text;
        });
    }

    private static RowFunction.Bound concat(Arguments args) {
        args.expectCount(1, Integer.MAX_VALUE, "concat(a, b, …)");
        return RowFunction.Bound.safe(Type.TEXT, (c, rows) -> {
            List<String> joined = new ArrayList<>(rows);
            StringBuilder text = new StringBuilder();
            for (int row = 0; row < rows; row++) {
                text.setLength(0);
                for (dev.fiesta.value.Column column : c) {
                    Object value = column.get(row);
                    text.append(value == null ? "" : Texts.of(value));
                }
                joined.add(text.toString());
            }
            return dev.fiesta.value.Column.of(Type.TEXT, joined);
        });
    }

    private static RowFunction.Bound placeIn(Arguments args) {
        args.expectCount(2, Integer.MAX_VALUE, "place_in(t, 'a', 'b', …)");
        text(args, 0);
        List<String> list = new ArrayList<>();
        for (int i = 1; i < args.count(); i++) {
            list.add(args.textConstant(i, "Each entry"));
        }
        return Boxed.safe(Type.INTEGER, a -> {
            int place = list.indexOf(a[0]);
            return place < 0 ? null : (Object) (place + 1L);
        });
    }
}
