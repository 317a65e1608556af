package dev.fiesta.language;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Sets what belongs together below each other: types behind the names of declared fields, and comments behind lines. */
final class Alignment {
    private static final Pattern FIELD = Pattern.compile("(  fields | {9})(\"(?:[^\"]|\"\")*\"|\\w+) (\\S.*)");
    private static final String GAP = "  ";

    private Alignment() {}

    /** A text whose lines are laid out already; doing it again changes nothing. */
    static String of(String text) {
        StringBuilder all = new StringBuilder();
        List<String> block = new ArrayList<>();
        for (String line : text.split("\n", -1)) {
            if (line.isEmpty()) {
                append(block, all);
                all.append('\n');
            } else {
                block.add(line);
            }
        }
        append(block, all);
        return all.substring(0, Math.max(0, all.length() - 1));
    }

    private static void append(List<String> block, StringBuilder all) {
        fields(block);
        comments(block);
        block.forEach(line -> all.append(line).append('\n'));
        block.clear();
    }

    private static void fields(List<String> lines) {
        for (int first = 0; first < lines.size(); first++) {
            int end = first;
            if (lines.get(first).startsWith("  fields ") && !lines.get(first).startsWith("  fields by name")) {
                do {
                    end++;
                } while (end < lines.size()
                        && FIELD.matcher(lines.get(end)).matches()
                        && !lines.get(end).startsWith("  f"));
                pad(lines, first, end);
            }
        }
    }

    private static void pad(List<String> lines, int first, int end) {
        int widest = 0;
        for (int i = first; i < end; i++) {
            Matcher field = FIELD.matcher(lines.get(i));
            widest = field.matches() ? Math.max(widest, field.group(2).length()) : widest;
        }
        for (int i = first; i < end; i++) {
            Matcher field = FIELD.matcher(lines.get(i));
            if (field.matches()) {
                String name = field.group(2);
                lines.set(i, field.group(1) + name + " ".repeat(widest - name.length() + 1) + field.group(3));
            }
        }
    }

    private static void comments(List<String> lines) {
        int widest = 0;
        for (String line : lines) {
            widest = Math.max(widest, code(line));
        }
        for (int i = 0; i < lines.size(); i++) {
            String line = lines.get(i);
            int code = code(line);
            if (code > 0) {
                lines.set(
                        i,
                        line.substring(0, code)
                                + " ".repeat(widest - code)
                                + GAP
                                + line.substring(code).stripLeading());
            }
        }
    }

    /** How long the words before a comment are; 0 where there is none, or nothing but one. */
    private static int code(String line) {
        char quote = 0;
        for (int i = 0; i < line.length(); i++) {
            char c = line.charAt(i);
            if (quote != 0) {
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"') {
                quote = c;
            } else if (c == '#') {
                return line.substring(0, i).stripTrailing().length();
            }
        }
        return 0;
    }
}
