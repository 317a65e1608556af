package dev.fiesta.copy;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.FiestaException;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Stream;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Copies are read while files are what they were, and then everything that is told is what the files would tell. */
class CopiesTest {
    private static final Instant LONG_AGO = Instant.parse("2026-05-01T10:00:00Z");
    private static final String INPUT = "input sales from 'sales.csv' fields amount decimal(2) bad as missing, "
            + "day date 'dd/MM/yyyy' or 'MM/dd/yyyy' first pattern wins\n";

    @TempDir
    Path folder;

    private final List<String> told = Collections.synchronizedList(new ArrayList<>());
    private String sales = "";

    /** Sales with cells that are none of their type, that two patterns read, that are missing, and that hold the ends of lines. */
    @BeforeEach
    void data() throws IOException {
        SplittableRandom random = new SplittableRandom(5);
        StringBuilder text = new StringBuilder("site,amount,day,note\n");
        for (int i = 0; i < 40_000; i++) {
            text.append(random.nextInt(9) == 0 ? "" : "Site " + random.nextInt(6))
                    .append(',')
                    .append(random.nextInt(700) == 0 ? "oops" : random.nextInt(90_000) / 100 + ".25")
                    .append(',')
                    .append(String.format("%02d/%02d/2026", 1 + random.nextInt(28), 1 + random.nextInt(12)))
                    .append(',')
                    .append(random.nextInt(50) == 0 ? "\"two\nlines " + i + "\"" : "note " + random.nextInt(2000))
                    .append('\n');
        }
        sales = text.toString();
        write(folder.resolve("sales.csv"), sales, LONG_AGO);
    }

    private static void write(Path file, String text, Instant time) throws IOException {
        Files.writeString(file, text);
        Files.setLastModifiedTime(file, FileTime.from(time));
    }

    private Copies copies() {
        return SmallCopies.in(folder.resolve("copies"), told);
    }

    /** What comes of a brief, with everything that is told. */
    private String outcome(String brief, boolean copied) {
        FiestaBuilder builder = Fiesta.with().threads(2);
        try (Fiesta fiesta = (copied ? builder.copies(copies()) : builder).open()) {
            Tables tables = fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of());
            StringBuilder all = new StringBuilder();
            tables.run(tables.unused()).forEach((name, result) -> all.append(shown(name, result)));
            return all.toString();
        } catch (FiestaException e) {
            return "failed: " + e.getMessage();
        }
    }

    private static String shown(String name, Result result) {
        return name + "\n" + String.join("\n", Asking.lines(result))
                + result.notices().list() + result.notices().warnings() + "\n";
    }

    private boolean isCopied(String brief) {
        try (Fiesta fiesta = Fiesta.with().copies(copies()).open()) {
            return !fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of())
                    .copied()
                    .isEmpty();
        }
    }

    @Test
    void everythingToldIsWhatTheFilesTell() {
        String groups = INPUT + "table t from sales per site give n = count(), a = sum(amount), d = min(day)";
        String records = INPUT + "table t from sales add x = amount * 2 only day > 2026-09-01 "
                + "first 5 within site along amount desc";
        String early = INPUT + "table t from sales add half = amount / 2 first 900";
        String wrong = INPUT + "table t from sales add i = integer(note)";
        String unique = INPUT + "table t from sales check unique note";
        String sampled = INPUT + "table t from sales sample 7 add place = row_number(along note)";
        String skipped = INPUT + "table t from sales only day > 2030-01-01 per all give n = count(), a = sum(amount)";
        for (String brief : List.of(groups, records, early, wrong, unique, sampled, skipped)) {
            String files = outcome(brief, false);
            assertThat(outcome(brief, true)).as("first, " + brief).isEqualTo(files);
            assertThat(outcome(brief, true)).as("again, " + brief).isEqualTo(files);
        }
        assertThat(outcome(groups, true)).contains("BAD_AS_MISSING", "SEVERAL_PATTERNS", "sales.csv, line ");
        assertThat(outcome(wrong, true)).contains("sales.csv, line ");
        assertThat(isCopied(groups)).isTrue();
        assertThat(copies().list()).singleElement().satisfies(kept -> {
            assertThat(kept.files()).containsExactly("sales.csv");
            assertThat(kept.records()).isEqualTo(40_000);
        });
        assertThat(told).isEmpty();
    }

    @Test
    void packedFilesLinesOfJsonAndFieldsOfPathsAreCopiedToo() throws IOException {
        Files.createDirectories(folder.resolve("year=2026"));
        try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(folder.resolve("year=2026/sales.csv.gz")))) {
            out.write(sales.getBytes(java.nio.charset.StandardCharsets.UTF_8));
        }
        String brief = "input sales from 'year=*/*.csv.gz' fields from path "
                + "fields amount decimal(2) bad as missing, year integer\n"
                + "table t from sales only year = 2026 per year, site give n = count(), a = sum(amount)";
        String files = outcome(brief, false);
        assertThat(outcome(brief, true)).isEqualTo(files).contains("sales.csv.gz, line ");
        assertThat(outcome(brief, true)).isEqualTo(files);
        assertThat(isCopied(brief)).isTrue();
    }

    @Test
    void changedFilesAreReadAnewAndTouchedOnesAreNot() throws IOException {
        String brief = INPUT + "table t from sales per site give a = sum(amount)";
        outcome(brief, true);
        Instant made = copies().list().get(0).used();
        Path file = folder.resolve("sales.csv");
        Files.setLastModifiedTime(file, FileTime.from(LONG_AGO.plusSeconds(60)));
        assertThat(outcome(brief, true)).isEqualTo(outcome(brief, false));
        assertThat(copies().list()).hasSize(1);
        assertThat(copies().list().get(0).used()).isAfterOrEqualTo(made);

        write(file, sales.replaceFirst("\\.25", ".75"), LONG_AGO.plusSeconds(90)); // as large as it was
        String changed = outcome(brief, false);
        assertThat(outcome(brief, true)).isEqualTo(changed);
        write(file, sales.substring(0, sales.length() / 2), LONG_AGO);
        assertThat(outcome(brief, true)).isEqualTo(outcome(brief, false)).isNotEqualTo(changed);
        assertThat(copies().list()).hasSize(1);
    }

    /** A file that was just written may be written again within the same tick of its clock. */
    @Test
    void theTimeOfAYoungFileIsNotTrusted() throws IOException {
        String brief = INPUT + "table t from sales per site give a = sum(amount)";
        Instant now = Instant.now();
        write(folder.resolve("sales.csv"), sales, now);
        outcome(brief, true);
        write(folder.resolve("sales.csv"), sales.replaceFirst("\\.25", ".75"), now);
        assertThat(outcome(brief, true)).isEqualTo(outcome(brief, false));
    }

    @Test
    void aDamagedCopyIsDroppedAndTheFilesAreRead() throws IOException {
        String brief = INPUT + "table t from sales per site, day give n = count(), a = sum(amount), x = max(note)";
        String files = outcome(brief, false);
        outcome(brief, true);
        Path copy = copyFile();
        byte[] whole = Files.readAllBytes(copy);
        SplittableRandom random = new SplittableRandom(11);
        int said = 0;
        for (int i = 0; i < Repeats.of(12, 72); i++) {
            byte[] damaged = i % 6 == 0 ? Arrays.copyOf(whole, random.nextInt(whole.length)) : whole.clone();
            if (i % 6 != 0) {
                int at = i % 6 == 1 ? whole.length - 1 - random.nextInt(400) : random.nextInt(whole.length);
                damaged[at] ^= (byte) (1 + random.nextInt(255));
            }
            told.clear();
            Files.write(copy, damaged);
            assertThat(outcome(brief, true)).isEqualTo(files);
            said += told.size();
            assertThat(told)
                    .allMatch("The copy of 'sales' is damaged: it was dropped, and the files are read."::equals);
        }
        assertThat(said).isGreaterThan(5);
        assertThat(outcome(brief, true)).isEqualTo(files);
    }

    private Path copyFile() throws IOException {
        try (Stream<Path> files = Files.list(folder.resolve("copies"))) {
            return files.findFirst().orElseThrow();
        }
    }

    @Test
    void whatCannotBeCopiedIsReadFromItsFilesAndTold() throws IOException {
        String strict = "input sales from 'sales.csv' fields amount decimal(2)\n"
                + "table t from sales per site give n = count()";
        assertThat(outcome(strict, true)).isEqualTo(outcome(strict, false)).startsWith("t\n");
        assertThat(told)
                .singleElement()
                .satisfies(sentence -> assertThat(sentence)
                        .startsWith("No copy of 'sales' is kept: sales.csv, line ")
                        .contains("'oops'"));
        told.clear();

        String aside = strict.replace("decimal(2)", "decimal(2) unreadable aside at most 1 percent");
        assertThat(outcome(aside, true)).isEqualTo(outcome(aside, false)).startsWith("t\n");
        assertThat(isCopied(aside)).isFalse();

        Copies tight = new Copies(folder.resolve("tight"), 1000, 0, told::add);
        try (Fiesta fiesta = Fiesta.with().copies(tight).open()) {
            assertThat(fiesta.read(folder.resolve("sales.csv")).run().rows()).isEqualTo(40_000);
        }
        assertThat(told).containsExactly("No copy of 'records' is kept: it would take more than copies may.");
        assertThat(folder.resolve("tight")).isEmptyDirectory();
        assertThat(copies().list()).isEmpty();
    }

    @Test
    void aFieldThatNeedsAWiderTypeLaterIsTold() throws IOException {
        StringBuilder text = new StringBuilder("n,t\n");
        for (int i = 0; text.length() < 20 << 20; i++) {
            text.append(i)
                    .append(",some text that takes its room in the file ")
                    .append(i)
                    .append('\n');
        }
        text.insert(text.indexOf("\n", 15 << 20) + 1, "1.5,x\n");
        write(folder.resolve("long.csv"), text.toString(), LONG_AGO);
        String brief = "input long from 'long.csv' table t from long per all give s = sum(n)";
        assertThat(outcome(brief, true)).isEqualTo(outcome(brief, false));
        assertThat(told.get(0))
                .isEqualTo(
                        "No copy of 'long' is kept: its field n turns out to be a decimal(1) only far behind its start. "
                                + "Tell its type: fields n decimal(1).");
        assertThat(isCopied(brief.replace("'long.csv'", "'long.csv' fields n decimal(1)")))
                .isTrue();
    }

    @Test
    void copiesThatWereNotUsedForTheLongestTimeGoFirst() throws IOException {
        List<String> names = List.of("a.csv", "b.csv", "c.csv");
        for (String name : names) {
            write(folder.resolve(name), sales, LONG_AGO);
        }
        long size = 0;
        for (String name : names) {
            Copies room = new Copies(folder.resolve("room"), size == 0 ? 1 << 30 : size * 5 / 2, 0, told::add);
            try (Fiesta fiesta = Fiesta.with().copies(room).open()) {
                fiesta.read(folder.resolve(name)).run();
            }
            size = room.list().get(0).bytes();
            for (Copies.Kept kept : room.list()) {
                assertThat(kept.bytes()).isPositive();
            }
        }
        Copies room = new Copies(folder.resolve("room"), 1 << 30, 0, told::add);
        assertThat(room.list())
                .extracting(k -> Path.of(k.files().get(0)).getFileName().toString())
                .containsExactly("c.csv", "b.csv");
        assertThat(room.clear()).isEqualTo(2);
        assertThat(folder.resolve("room")).isEmptyDirectory();
        if (Files.getFileStore(folder).supportsFileAttributeView("posix")) {
            assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(folder.resolve("room"))))
                    .isEqualTo("rwx------");
        }
    }

    @Test
    void severalRunsMakeAndReadCopiesAtOnce() throws Exception {
        String brief = INPUT + "table t from sales per site give n = count(), a = sum(amount)";
        String files = outcome(brief, false);
        ExecutorService runs = Executors.newFixedThreadPool(6);
        try {
            List<Future<String>> all = new ArrayList<>();
            for (int i = 0; i < 24; i++) {
                boolean clears = i % 8 == 7;
                all.add(runs.submit(() -> {
                    if (clears) {
                        copies().clear();
                    }
                    return outcome(brief, true);
                }));
            }
            for (Future<String> one : all) {
                assertThat(one.get()).isEqualTo(files);
            }
        } finally {
            runs.shutdownNow();
        }
        assertThat(told).isEmpty();
    }

    @Test
    void whatAKilledRunLeftGoesWithTheNextCopy() throws IOException {
        Files.createDirectories(folder.resolve("copies"));
        Path left = folder.resolve("copies/half.making");
        write(left, "half", LONG_AGO);
        outcome(INPUT + "table t from sales per site", true);
        assertThat(left).doesNotExist();
        assertThat(copies().list()).hasSize(1);
    }

    /** Whoever interrupts a run does not lose the copy, and the same tables run again. */
    @Test
    void anInterruptDamagesNothing() {
        String brief = INPUT + "table t from sales per site give n = count()";
        outcome(brief, true);
        try (Fiesta fiesta = Fiesta.with().threads(2).copies(copies()).open()) {
            Tables tables = fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of());
            Thread.currentThread().interrupt();
            String first;
            try {
                first = shown("t", tables.run(List.of("t")).get("t"));
            } catch (FiestaException e) {
                first = "interrupted";
            }
            assertThat(Thread.interrupted() || first.equals("interrupted")).isTrue();
            assertThat(shown("t", tables.run(List.of("t")).get("t"))).isEqualTo(outcome(brief, false));
            assertThat(tables.copied()).isNotEmpty();
        }
        assertThat(told).isEmpty();
    }
}
