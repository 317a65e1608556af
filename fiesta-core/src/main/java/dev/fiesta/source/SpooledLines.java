package dev.fiesta.source;

import java.nio.charset.StandardCharsets;
import java.util.List;

/**
 * Records as a {@link RecordSpool} writes them.
 *
 * @param names of the fields, by their numbers
 */
record SpooledLines(List<String> names) implements LineFormat {
    static final char TEXT = 't';
    static final char NUMBER = 'n';
    static final char WRITTEN = 'w';
    static final char TRUE = 'y';
    static final char FALSE = 'f';
    static final char MISSING = 'm';

    @Override
    public void read(byte[] bytes, int start, int end, Fields fields) {
        int at = start;
        while (at < end && bytes[at] != '\t') {
            at++;
        }
        while (at < end) {
            int field = 0;
            for (at++; bytes[at] >= '0' && bytes[at] <= '9'; at++) {
                field = field * 10 + bytes[at] - '0';
            }
            int from = at + 1;
            int to = from;
            boolean escaped = false;
            for (; to < end && bytes[to] != '\t'; to++) {
                escaped |= bytes[to] == '\\';
            }
            String value = new String(bytes, from, to - from, StandardCharsets.UTF_8);
            tell(fields, names.get(field), (char) bytes[at], escaped ? plain(value) : value);
            at = to;
        }
    }

    private static void tell(Fields fields, String name, char kind, String value) {
        switch (kind) {
            case TEXT -> fields.text(name, value);
            case NUMBER -> fields.number(name, value);
            case WRITTEN -> fields.cell(name, value);
            case TRUE -> fields.truth(name, true);
            case FALSE -> fields.truth(name, false);
            default -> fields.missing(name);
        }
    }

    private static String plain(String value) {
        StringBuilder plain = new StringBuilder(value.length());
        for (int i = 0; i < value.length(); i++) {
            char c = value.charAt(i);
            if (c != '\\') {
                plain.append(c);
                continue;
            }
            char what = value.charAt(++i);
            plain.append(what == 't' ? '\t' : what == 'n' ? '\n' : what == 'r' ? '\r' : '\\');
        }
        return plain.toString();
    }
}
