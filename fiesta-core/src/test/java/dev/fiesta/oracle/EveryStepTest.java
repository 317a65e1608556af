package dev.fiesta.oracle;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.Table;
import dev.fiesta.member.LocalCrew;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.progress.Timing;
import dev.fiesta.source.LeftBehind;
import dev.fiesta.source.TinyPieces;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.stream.Collectors;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * What every step must keep, whatever stands below it: over tables that end where blocks do, with keys of every kind, clean and dirty,
 * it comes to the same rows, notices, numbers of rows and message for any number of threads, any memory, any pieces, packed or plain,
 * alone or beside another that uses the same table. Afterwards nothing runs and no file is left.
 */
class EveryStepTest {
    private static final int BLOCK = 1 << 13;
    private static final int[] SIZES = {0, 1, 2, 200, BLOCK - 1, BLOCK, BLOCK + 1, 2 * BLOCK + 1};
    private static final int SMALL = 200;
    private static final int TABLES_OF_EACH = Integer.getInteger("fiesta.tables", 2);

    private enum Keys {
        ONE,
        FEW,
        ALL_DIFFERENT,
        NINE_OF_TEN_EQUAL,
        MISSING,
        LONG_TEXTS
    }

    private enum Dirt {
        NONE,
        AS_MISSING,
        REFUSED
    }

    private static final String[] STEPS = {
        "only quantity > 3 and amount is not missing",
        "only item = upper(item) or score < 2",
        "add x = amount * 2, y = day + 1 day, z = substring(item, 1, 3)",
        "rename amount as takings drop score",
        "columns item, amount percent, quantity",
        "turn quantity, score into what, value",
        "sort amount desc, item",
        "sort item, day first 7",
        "first 5",
        "first 3 within site",
        "first 2 within site, item along amount desc",
        "first 9 along score desc, day",
        "distinct site",
        "distinct site, item, quantity",
        "sample 10 within site",
        "sample 30 percent",
        "shuffle first 20",
        "check amount < 1000",
        "check rows > 0",
        "check unique site, item, day, quantity, amount, score",
        "match prices on item bring p",
        "match prices on item bring p, q required",
        "match prices on item bring q also unmatched",
        "match prices on item unmatched only",
        "match each prices on item bring p",
        "match prices on item, latest since <= day bring p",
        "append prices",
        "add r = rank(within site along amount desc)",
        "add r = row_number(within site along day) only r <= 2",
        "add d = dense_rank(along quantity), p = percent_rank(within item along score)",
        "add l = lag(amount within site along day, quantity), c = change(amount along day, quantity)",
        "add t = sum(amount within site along day running)",
        "add m = mean(amount within site along day last 7)",
        "add m = median(score within site along day last 5), n = max(item within site along day running)",
        "add s = share(amount within site), h = sum(amount within site), n = count(within all)",
        "add f = first(amount within site along day), g = at_max(item, amount within site)",
        "fill amount within site along day",
        "per site give n = count(), t = sum(amount), m = mean(score)",
        "per site, item give t = sum(amount), d = count_distinct(day), q = quantile(score, 0.9)",
        "per item give m = median(amount), o = mode(quantity), l = last(score along day)",
        "per all give t = sum(amount), s = stddev(score), c = count_distinct(item)",
        "per site, item give m = median(amount), q = quantile(amount, 0.9), w = median(amount within site), "
                + "t = trimmed_mean(amount, 0.1) totals by site",
        "per site, item give t = sum(amount), p = share(amount within site) only p > 0.1",
        "per site, item give t = sum(amount), m = median(score) totals by site",
        "per site give t = sum(amount), m = median(score) first 3 along t desc rest as 'Rest' totals",
        "per site, day give t = sum(amount) gapless day every 1 day within site with 0",
        "per site, item give n = count(), t = sum(amount) hide t where n < 3 totals by site",
        "per site against quantity in (1, 2, 3) rest as 'more' give t = sum(amount) totals",
        "per site give n = count() per n give sites = count()",
    };

    private static final String PRICES =
            "table prices from sales per item give p = max(amount), q = count(), since = min(day)\n";

    @TempDir
    static Path folder;

    /**
     * How a table is read and worked on.
     *
     * @param members of a crew, who read {@code task} bytes at a time; 0 for none
     */
    private record Way(int threads, long memory, int piece, boolean packed, boolean shared, int members, int task) {}

    private static final Way PLAIN = new Way(1, 1L << 30, 1 << 20, false, false, 0, 1);

    private static Way way(SplittableRandom random, int size, boolean crew) {
        int[] threads = {1, 2, 8};
        long[] memories = size <= SMALL ? new long[] {1, 700, 1L << 30} : new long[] {64 << 10, 600 << 10, 1L << 30};
        int[] pieces = size <= SMALL ? new int[] {7, 64, 1 << 20} : new int[] {4_000, 50_000, 1 << 20};
        return new Way(
                threads[random.nextInt(3)],
                memories[random.nextInt(3)],
                pieces[random.nextInt(3)],
                !crew && random.nextInt(3) == 0,
                random.nextBoolean(),
                crew ? 1 + random.nextInt(3) : 0,
                size <= SMALL ? 80 : 60_000);
    }

    @Test
    void everyStepKeepsItsPromises() throws IOException {
        long before = LeftBehind.files();
        List<String> differing = new ArrayList<>();
        int failed = 0;
        int answered = 0;
        for (int s = 0; s < STEPS.length; s++) {
            for (int t = 0; t < TABLES_OF_EACH; t++) {
                SplittableRandom random = new SplittableRandom(s * 1000L + t);
                int size = SIZES[(s + t * 3) % SIZES.length];
                Keys keys = Keys.values()[random.nextInt(Keys.values().length)];
                Dirt dirt = Dirt.values()[random.nextInt(4) % Dirt.values().length];
                write(size, keys, dirt, random);
                boolean asMissing = dirt == Dirt.AS_MISSING;
                String expected = outcome(STEPS[s], asMissing, PLAIN);
                failed += expected.startsWith("failed") ? 1 : 0;
                answered += expected.startsWith("failed") ? 0 : 1;
                for (int w = 0; w < Repeats.of(1, 6); w++) {
                    Way way = way(random, size, (s + t + w) % 2 == 0);
                    String found = outcome(STEPS[s], asMissing, way);
                    if (!found.equals(expected)) {
                        differing.add(STEPS[s] + " over " + size + " rows, keys " + keys + ", dirt " + dirt + ", " + way
                                + firstDifference(expected, found));
                        break;
                    }
                }
            }
        }
        assertThat(differing).isEmpty();
        assertThat(failed).isGreaterThan(5);
        assertThat(answered).isGreaterThan(STEPS.length * TABLES_OF_EACH / 2);
        assertThat(LeftBehind.workers()).isZero();
        assertThat(LeftBehind.files()).as("files that no run needs any more").isLessThanOrEqualTo(before);
    }

    private static String firstDifference(String expected, String found) {
        List<String> one = expected.lines().toList();
        List<String> other = found.lines().toList();
        int at = 0;
        while (at < Math.min(one.size(), other.size()) && one.get(at).equals(other.get(at))) {
            at++;
        }
        return "\n  line " + at + ": " + (at < one.size() ? one.get(at) : "the end") + "\n  but: "
                + (at < other.size() ? other.get(at) : "the end");
    }

    private static String outcome(String step, boolean asMissing, Way way) throws IOException {
        Path file = folder.resolve(way.packed() ? "sales.csv.gz" : "sales.csv");
        String beside = way.shared() ? "table beside from kept per site give n = count()\n" : "";
        String text = PRICES + "table kept from sales\ntable t from kept " + step + "\n" + beside;
        FiestaBuilder settings = Fiesta.with().threads(way.threads()).memory(way.memory());
        try (LocalCrew crew = new LocalCrew(settings.member(), Math.max(1, way.members()), way.task(), 0, 2);
                Fiesta fiesta = way.members() == 0
                        ? settings.open()
                        : settings.crew(crew).open()) {
            Table sales = TinyPieces.read(fiesta, file, way.piece(), asMissing);
            List<String> wanted = way.shared() ? List.of("t", "beside") : List.of("t");
            Map<String, Result> results = Brief.of("step", "input sales from 'sales.csv'\n" + text, folder)
                    .input("sales", sales)
                    .tables(fiesta)
                    .run(wanted);
            String told = plain(told(results.get("t")));
            results.values().forEach(Result::close);
            return told;
        } catch (FiestaException e) {
            assertThat(e.getMessage()).doesNotContainPattern("^step:\\d+:\\d+: .* (expected|There is no)");
            return "failed: " + plain(e.getMessage());
        }
    }

    private static String plain(String told) {
        return told.replace("sales.csv.gz", "sales.csv");
    }

    private static String told(Result result) {
        return String.join("\n", Asking.lines(result)) + "\n" + result.totals() + "\n"
                + Asking.notices(result) + "\n"
                + result.timings().stream()
                        .filter(step -> step.table().equals("t"))
                        .map(EveryStepTest::rows)
                        .collect(Collectors.joining(", "));
    }

    private static String rows(Timing step) {
        return step.step() + " " + step.rowsIn() + " to " + step.rowsOut();
    }

    private static void write(int size, Keys keys, Dirt dirt, SplittableRandom random) throws IOException {
        StringBuilder text = new StringBuilder("site,item,day,quantity,amount,score\n");
        for (int i = 0; i < size; i++) {
            boolean border = i % BLOCK == BLOCK - 1 || i % BLOCK == 0;
            boolean bad = dirt != Dirt.NONE && (border && i > 0 || random.nextInt(3_000) == 0);
            text.append(key(keys, i, random))
                    .append(",item ")
                    .append(random.nextInt(9))
                    .append(",2026-05-")
                    .append(10 + random.nextInt(20))
                    .append(',')
                    .append(random.nextInt(12) == 0 ? "" : bad && random.nextBoolean() ? "oops" : random.nextInt(7))
                    .append(',')
                    .append(random.nextInt(12) == 0 ? "" : bad ? "n/a" : random.nextInt(90) + ".25")
                    .append(',')
                    .append(random.nextInt(12) == 0 ? "" : random.nextInt(400) / 8.0)
                    .append('\n');
        }
        Repeats.write(folder.resolve("sales.csv"), text);
        try (OutputStream packed = new GZIPOutputStream(Files.newOutputStream(folder.resolve("sales.csv.gz")))) {
            packed.write(text.toString().getBytes(StandardCharsets.UTF_8));
        }
    }

    private static String key(Keys keys, int row, SplittableRandom random) {
        return switch (keys) {
            case ONE -> "Quay";
            case FEW -> "site " + random.nextInt(5);
            case ALL_DIFFERENT -> "site " + row;
            case NINE_OF_TEN_EQUAL -> random.nextInt(10) > 0 ? "Quay" : "site " + random.nextInt(1000);
            case MISSING -> random.nextBoolean() ? "" : "site " + random.nextInt(3);
            case LONG_TEXTS -> "a site with a name of more than sixteen letters, number " + random.nextInt(50);
        };
    }
}
