package dev.fiesta.source.cells;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Rows that are as they should be are found in another way than odd ones: both ways find the same in any bytes. Where comments may stand
 * all is looked at closely, so a dialect whose comments start with a byte that stands nowhere is the other way.
 */
class PlainCellsTest {
    private static final byte NOWHERE = 1;

    /** {@code -Dfiesta.scans=100000} for a long run. */
    private static final int SCANS = Integer.getInteger("fiesta.scans", 800) * 10;

    private static final String[] WHOLE = {
        "",
        "a",
        "lemonade",
        "\"\"",
        "\"a,b\"",
        "\"line\nend\"",
        "\"say \"\"hi\"\"\"",
        "é🎪",
        "\"\"\"\"",
        "\"crlf\r\n\"",
        "0.5"
    };
    private static final String[] ODD = {
        "5\" pipe", "\"x\"y", "\"a\" ", "a\"\"b", "\"open", "x,y", "\n", "\r", "\"", "\"\"\"", "c\r"
    };

    @Test
    void bothWaysFindTheSame() {
        for (long seed = 0; seed < SCANS; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            int width = random.nextInt(5) == 0 ? 40 : 1 + random.nextInt(6);
            byte[] text = text(random, width).getBytes(StandardCharsets.UTF_8);
            byte[] bytes = Arrays.copyOf(text, text.length + CellFinder.PADDING);
            // What stands behind the end is left from before.
            for (int i = text.length; i < bytes.length; i++) {
                bytes[i] = (byte) "\n\",a\r".charAt(random.nextInt(5));
            }
            boolean odd = random.nextBoolean();
            boolean shortAsMissing = random.nextInt(4) == 0;
            int from = random.nextInt(3) == 0 ? random.nextInt(text.length + 1) : 0;
            int limit = random.nextBoolean() ? text.length : from + random.nextInt(text.length - from + 1);
            boolean last = random.nextBoolean();
            assertThat(found(bytes, text.length, (byte) 0, width, odd, shortAsMissing, from, limit, last))
                    .as(
                            "seed %s, %s cells, odd rows kept %s, from %s, limit %s, last %s:\n%s",
                            seed, width, odd, from, limit, last, new String(text, StandardCharsets.UTF_8))
                    .isEqualTo(found(bytes, text.length, NOWHERE, width, odd, shortAsMissing, from, limit, last));
        }
    }

    /** A row so long that it goes through many blocks, a quoted cell as well, and one odd sign at every place behind them. */
    @ParameterizedTest
    @ValueSource(strings = {"\"", "\n", ",", "\r", "x"})
    void oneSignAnywhere(String sign) {
        String rows = ("lemonade,\"" + "two\n".repeat(40) + "\",12.50,\"say \"\"hi\"\"\"\r\n" + "a,b,,\n").repeat(2);
        for (int at = 0; at <= rows.length(); at++) {
            byte[] text = (rows.substring(0, at) + sign + rows.substring(at)).getBytes(StandardCharsets.UTF_8);
            byte[] bytes = Arrays.copyOf(text, text.length + CellFinder.PADDING);
            for (boolean odd : new boolean[] {false, true}) {
                assertThat(found(bytes, text.length, (byte) 0, 4, odd, false, 0, text.length, true))
                        .as("%s at %s", sign, at)
                        .isEqualTo(found(bytes, text.length, NOWHERE, 4, odd, false, 0, text.length, true));
            }
        }
    }

    private static String text(SplittableRandom random, int width) {
        int oneIn = new int[] {0, 400, 40, 4}[random.nextInt(4)];
        int rows = random.nextInt(random.nextInt(10) == 0 ? 400 : 30);
        String end = random.nextInt(3) == 0 ? "\r\n" : "\n";
        StringBuilder text = new StringBuilder();
        for (int r = 0; r < rows; r++) {
            for (int c = 0; c < width; c++) {
                boolean odd = oneIn > 0 && random.nextInt(oneIn) == 0;
                text.append(c == 0 ? "" : ",")
                        .append(odd ? ODD[random.nextInt(ODD.length)] : WHOLE[random.nextInt(WHOLE.length)]);
            }
            text.append(oneIn > 0 && random.nextInt(oneIn) == 0 ? "" : end);
        }
        return text.toString();
    }

    /** Everything that is known of the rows. */
    private static List<Object> found(
            byte[] bytes,
            int filled,
            byte comment,
            int width,
            boolean odd,
            boolean shortAsMissing,
            int from,
            int limit,
            boolean last) {
        Dialect dialect = new Dialect(
                (byte) ',',
                (byte) '"',
                (byte) '\n',
                comment,
                0,
                true,
                false,
                false,
                shortAsMissing,
                null,
                List.of(),
                false);
        CellFinder finder = new CellFinder(dialect, width, odd);
        byte[] own = bytes.clone();
        List<Object> found = new ArrayList<>();
        found.add(finder.find(own, from, limit, filled, last));
        assertThat(own).isEqualTo(bytes);
        for (int row = 0; row < finder.rows(); row++) {
            List<Integer> cells = new ArrayList<>(List.of(finder.rowStart(row), odd ? finder.rowEnd(row) : 0));
            for (int c = 0; c < width; c++) {
                cells.add(finder.start(row, c));
                cells.add(finder.end(row, c));
            }
            found.add(cells);
        }
        found.add(finder.behind());
        found.add(String.valueOf(finder.ragged()));
        found.add(finder.odd().toString());
        return found;
    }
}
