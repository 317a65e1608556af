package dev.fiesta.cli.attack;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.cli.Main;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Data files with bytes changed, cut out, doubled or put in: a result or a message within seconds, and for packed ones never a part. */
class SpoiltFilesAttack {
    private static final int FILES = Integer.getInteger("fiesta.files", 1500);
    private static final byte[][] INSERTED = {
        {'"'},
        {0},
        {(byte) 0xff},
        {(byte) 0xc3},
        {'\r'},
        {'\n', '\n'},
        {','},
        {'"', '\n'},
        {(byte) 0xe2, (byte) 0x80, (byte) 0xae},
        {'1', 'e', '9', '9', '9'},
        {'-'},
        {'\\'},
        {'{'},
        {'['},
        {(byte) 0xed, (byte) 0xa0, (byte) 0x80},
        "99999999999999999999".getBytes(StandardCharsets.UTF_8)
    };
    private static final String[][] COMMANDS = {
        {"ask", "FILE", "per site give n = count(), s = sum(amount) sort site", "--as", "csv"},
        {"ask", "FILE", "first 3 within site along amount desc", "--as", "json"},
        {"survey", "FILE"},
        {"draft", "FILE"},
    };

    @TempDir
    Path folder;

    @ParameterizedTest
    @ValueSource(strings = {"sales.csv", "sales.csv.gz", "sales.tsv", "sales.jsonl", "sales.json"})
    void eachEndsWithAResultOrAMessage(String name) throws IOException {
        byte[] whole = whole(name);
        SplittableRandom random = new SplittableRandom(name.hashCode());
        Map<Integer, Integer> statuses = new TreeMap<>();
        for (int i = 0; i < FILES; i++) {
            byte[] spoilt = spoilt(whole, random);
            Path file = folder.resolve(name);
            Files.write(file, spoilt);
            String[] command = COMMANDS[i % COMMANDS.length].clone();
            command[1] = file.toString();
            StringWriter said = new StringWriter();
            StringWriter out = new StringWriter();
            long begun = System.nanoTime();
            int status = Main.run(new PrintWriter(out), new PrintWriter(said), command);
            String why = String.join(" ", command) + " on spoilt file " + i + ": "
                    + java.util.HexFormat.of().formatHex(spoilt) + "\n" + said;
            assertThat(Duration.ofNanos(System.nanoTime() - begun)).as(why).isLessThan(Duration.ofSeconds(5));
            assertThat(status).as(why).isIn(0, 2, 3);
            assertThat(said.toString()).as(why).doesNotContain("fault of fiesta", "\tat ");
            assertThat(status == 0 ? out : said).as(why).asString().isNotBlank();
            if (name.endsWith(".gz") && status == 0) {
                assertThat(Arrays.equals(spoilt, whole) || headOnly(spoilt, whole))
                        .as(why + ": a packed file that was changed gave a result")
                        .isTrue();
            }
            statuses.merge(status, 1, Integer::sum);
        }
        System.out.println(name + ": " + FILES + " files, status -> files " + statuses);
        assertThat(statuses.get(3)).isPositive();
    }

    /** The bytes of a member's head that say nothing about its content (time, flags for speed, system). */
    private static boolean headOnly(byte[] spoilt, byte[] whole) {
        int at = Arrays.mismatch(spoilt, whole);
        return at >= 4 && at < 10 && Arrays.equals(spoilt, 10, spoilt.length, whole, 10, whole.length);
    }

    private static byte[] whole(String name) throws IOException {
        StringBuilder text = new StringBuilder();
        boolean json = name.contains("json");
        char between = name.endsWith("tsv") ? '\t' : ',';
        if (!json) {
            text.append("day,site,amount\n".replace(',', between));
        }
        for (int i = 0; i < 40; i++) {
            String day = "2026-05-" + (10 + i % 20);
            String site = i % 3 == 0 ? "Quay" : "Old \"\"Town\"\"";
            String amount = i % 50 + ".50";
            if (json) {
                text.append(i > 0 && name.endsWith("json") ? "," : "")
                        .append("{\"day\":\"")
                        .append(day)
                        .append("\",\"site\":\"")
                        .append(site.replace("\"\"", "\\\""))
                        .append("\",\"amount\":")
                        .append(amount)
                        .append("}\n");
            } else {
                text.append(day)
                        .append(between)
                        .append('"')
                        .append(site)
                        .append('"')
                        .append(between)
                        .append(amount)
                        .append('\n');
            }
        }
        String all = name.endsWith(".json") ? "[" + text + "]" : text.toString();
        byte[] bytes = all.getBytes(StandardCharsets.UTF_8);
        return name.endsWith(".gz") ? packed(bytes) : bytes;
    }

    private static byte[] packed(byte[] bytes) throws IOException {
        ByteArrayOutputStream packed = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(packed)) {
            gzip.write(bytes);
        }
        return packed.toByteArray();
    }

    private static byte[] spoilt(byte[] whole, SplittableRandom random) {
        byte[] bytes = whole;
        for (int change = random.nextInt(1, 4); change > 0; change--) {
            int at = random.nextInt(bytes.length + 1);
            int end = Math.min(bytes.length, at + random.nextInt(1, 60));
            bytes = switch (random.nextInt(5)) {
                case 0 -> changed(bytes, at, random.nextInt(256));
                case 1 -> joined(Arrays.copyOf(bytes, at), new byte[0], Arrays.copyOfRange(bytes, end, bytes.length));
                case 2 ->
                    joined(
                            Arrays.copyOf(bytes, end),
                            Arrays.copyOfRange(bytes, at, end),
                            Arrays.copyOfRange(bytes, end, bytes.length));
                case 3 -> Arrays.copyOf(bytes, at);
                default ->
                    joined(
                            Arrays.copyOf(bytes, at),
                            INSERTED[random.nextInt(INSERTED.length)],
                            Arrays.copyOfRange(bytes, at, bytes.length));
            };
        }
        return bytes;
    }

    private static byte[] changed(byte[] bytes, int at, int value) {
        byte[] changed = bytes.clone();
        if (at < changed.length) {
            changed[at] = (byte) value;
        }
        return changed;
    }

    private static byte[] joined(byte[]... parts) {
        ByteArrayOutputStream all = new ByteArrayOutputStream();
        for (byte[] part : parts) {
            all.writeBytes(part);
        }
        return all.toByteArray();
    }
}
