package dev.fiesta.source;

import java.nio.charset.StandardCharsets;
import java.util.List;

/** Lines whose fields stand at fixed characters. Blanks around a value are none of it. */
record FixedWidth(List<Inside.Slice> slices, boolean shortLines) implements LineFormat {

    @Override
    public void read(byte[] bytes, int start, int end, Fields fields) throws Unreadable {
        String line = new String(bytes, start, end - start, StandardCharsets.UTF_8);
        boolean plain = line.length() == end - start; // a byte a character
        int length = plain ? line.length() : line.codePointCount(0, line.length());
        for (Inside.Slice slice : slices) {
            int needed = slice.to() == Integer.MAX_VALUE ? 0 : slice.to();
            if (length < needed && !shortLines) {
                throw new Unreadable("the line has " + length + " characters, '" + slice.name() + "' stands at "
                        + slice.from() + " to " + slice.to()
                        + "; add 'short rows as missing' where lines may end early");
            }
            int from = Math.min(slice.from() - 1, length);
            int to = Math.min(slice.to(), length);
            String value = plain
                    ? line.substring(from, to)
                    : line.substring(line.offsetByCodePoints(0, from), line.offsetByCodePoints(0, to));
            fields.cell(slice.name(), value.strip());
        }
    }
}
