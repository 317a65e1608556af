package dev.fiesta.benchmarks;

import dev.fiesta.Fiesta;
import dev.fiesta.Table;
import dev.fiesta.source.RecordSource;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.Field;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.SplittableRandom;
import java.util.concurrent.Callable;

/**
 * A table of ratios: what Fiesta takes, set against programs written for the one question, in turn, in one run.
 *
 * <pre>{@code
 * java -Xmx6g -cp "fiesta-benchmarks/target/classes:fiesta-benchmarks/target/lib/*" dev.fiesta.benchmarks.Ratios [ROWS]
 * }</pre>
 */
public final class Ratios {
    private static final int TURNS = 5;
    private static final int WARM = 3;
    private static final int SITES = 6;

    private final int rows;
    private final int[] site;
    private final long[] day;
    private final long[] amount;
    private final long[] id;

    private Ratios(int rows) {
        this.rows = rows;
        this.site = new int[rows];
        this.day = new long[rows];
        this.amount = new long[rows];
        this.id = new long[rows];
        SplittableRandom random = new SplittableRandom(1);
        for (int i = 0; i < rows; i++) {
            site[i] = random.nextInt(SITES);
            day[i] = LocalDate.of(2026, 5, 1).toEpochDay() + random.nextInt(150);
            amount[i] = random.nextInt(100, 10_000);
            id[i] = i * 7919L % rows;
        }
    }

    /** Prints the table. */
    public static void main(String[] args) throws Exception {
        int rows = args.length > 0 ? Integer.parseInt(args[0]) : 5_000_000;
        System.out.printf(
                "%,d rows, %d processors%n", rows, Runtime.getRuntime().availableProcessors());
        Ratios ratios = new Ratios(rows);
        for (int threads = 1; threads <= 2; threads++) {
            ratios.all(threads);
        }
        ratios.processes();
    }

    private Table table(Fiesta fiesta) {
        Dictionary names = new Dictionary();
        for (int s = 0; s < SITES; s++) {
            names.intern("site " + s);
        }
        Column[] columns = {
            new TextColumn(site, names, rows, null),
            new LongColumn(Type.DATE, day, rows, null),
            new LongColumn(Type.decimal(2), amount, rows, null),
            new LongColumn(Type.INTEGER, id, rows, null)
        };
        Schema schema = new Schema(List.of(
                new Field("site", Type.TEXT),
                new Field("day", Type.DATE),
                new Field("amount", Type.decimal(2)),
                new Field("id", Type.INTEGER)));
        return fiesta.from(RecordSource.of(schema, columns, rows));
    }

    private void all(int threads) throws Exception {
        try (Fiesta fiesta = Fiesta.with().threads(threads).memory(4L << 30).open()) {
            Table table = table(fiesta);
            Table months =
                    table.per("site", "month = month(day)").give("n = count()", "s = sum(amount)", "m = mean(amount)");
            compare("group 2 keys, 3 figures, in memory", threads, months::run, this::grouped);
            Table walks = table.add("r = rank(within site along amount desc)");
            compare("rank within partition", threads, walks::run, this::sorted);
            Table moving = table.add("m = mean(amount within site along id last 7)");
            compare("moving mean of 7", threads, moving::run, this::sorted);
            Table running = table.add("s = sum(amount within site along id running)");
            compare("running sum", threads, running::run, this::sorted);
            Table many = table.per("id").give("s = sum(amount)");
            compare("as many groups as rows", threads, many::run, this::hashed);
        }
    }

    private static void compare(String what, int threads, Callable<?> ours, Callable<?> theirs) throws Exception {
        for (int i = 0; i < WARM; i++) {
            ours.call();
            theirs.call();
        }
        double[] ratios = new double[TURNS];
        double[] own = new double[TURNS];
        for (int i = 0; i < TURNS; i++) {
            long start = System.nanoTime();
            ours.call();
            long between = System.nanoTime();
            theirs.call();
            own[i] = (between - start) / 1e9;
            ratios[i] = own[i] / ((System.nanoTime() - between) / 1e9);
        }
        Arrays.sort(ratios);
        Arrays.sort(own);
        System.out.printf(
                "%-40s %d thread%s  %6.3f s  ratio %5.2f  (%.2f to %.2f)%n",
                what,
                threads,
                threads == 1 ? " " : "s",
                own[TURNS / 2],
                ratios[TURNS / 2],
                ratios[0],
                ratios[TURNS - 1]);
    }

    /** Loops over the same arrays, one thread. */
    private long[] grouped() {
        long[] sums = new long[SITES * 16];
        long[] counts = new long[SITES * 16];
        int[] month = new int[256];
        long first = LocalDate.of(2026, 5, 1).toEpochDay();
        for (int d = 0; d < 150; d++) {
            month[d] = LocalDate.ofEpochDay(first + d).getMonthValue();
        }
        for (int i = 0; i < rows; i++) {
            int group = site[i] * 16 + month[(int) (day[i] - first)];
            sums[group] += amount[i];
            counts[group]++;
        }
        double[] means = new double[sums.length];
        for (int g = 0; g < sums.length; g++) {
            means[g] = counts[g] == 0 ? 0 : sums[g] / (100.0 * counts[g]);
        }
        return sums;
    }

    /** A radix sort of pairs of key and row. */
    private int[] sorted() {
        long[] keys = new long[rows];
        int[] order = new int[rows];
        for (int i = 0; i < rows; i++) {
            keys[i] = (long) site[i] << 40 | amount[i];
            order[i] = i;
        }
        long[] keysTo = new long[rows];
        int[] orderTo = new int[rows];
        for (int shift = 0; shift < 44; shift += 11) {
            int[] next = new int[2049];
            for (long key : keys) {
                next[((int) (key >>> shift) & 2047) + 1]++;
            }
            for (int v = 0; v < 2048; v++) {
                next[v + 1] += next[v];
            }
            for (int i = 0; i < rows; i++) {
                int at = next[(int) (keys[i] >>> shift) & 2047]++;
                keysTo[at] = keys[i];
                orderTo[at] = order[i];
            }
            long[] swapKeys = keys;
            keys = keysTo;
            keysTo = swapKeys;
            int[] swap = order;
            order = orderTo;
            orderTo = swap;
        }
        return order;
    }

    /** An open-addressing table of long keys with sums, and its keys in order. */
    private long[] hashed() {
        int capacity = Integer.highestOneBit(rows * 2) * 2;
        long[] keys = new long[capacity];
        long[] sums = new long[capacity];
        boolean[] used = new boolean[capacity];
        for (int i = 0; i < rows; i++) {
            int slot = (int) (id[i] * 0x9E3779B97F4A7C15L >>> 32) & capacity - 1;
            while (used[slot] && keys[slot] != id[i]) {
                slot = slot + 1 & capacity - 1;
            }
            used[slot] = true;
            keys[slot] = id[i];
            sums[slot] += amount[i];
        }
        return sums;
    }

    /** Whole processes with little memory: the same bytes as with much. */
    private void processes() throws IOException, InterruptedException {
        MainQuestion question = new MainQuestion();
        question.sales = rows;
        question.prepare();
        List<String> asked = List.of(
                "only status = 'settled' per site, item give n = count(), s = sum(amount), m = mean(amount)",
                "per sale_id give s = sum(amount), m = median(fee)",
                "sort amount desc, sale_id",
                "add r = rank(within site along amount desc)",
                "add m = mean(amount along sold_at, sale_id last 7)",
                "add t = text(sale_id) || ' x' per all give d = different(t)");
        for (String clauses : asked) {
            String little = process(question.file(), clauses, "-Xmx256m");
            String much = process(question.file(), clauses, "-Xmx4g");
            boolean same = Files.mismatch(Path.of(little.split(" ")[0]), Path.of(much.split(" ")[0])) < 0;
            System.out.printf(
                    "%-80s -Xmx256m %s s, -Xmx4g %s s, %s%n",
                    clauses, little.split(" ")[1], much.split(" ")[1], same ? "same bytes" : "DIFFERENT BYTES");
            Files.delete(Path.of(little.split(" ")[0]));
            Files.delete(Path.of(much.split(" ")[0]));
        }
    }

    private static String process(Path file, String clauses, String memory) throws IOException, InterruptedException {
        Path out = Files.createTempFile("fiesta-benchmark-", ".csv");
        List<String> command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                memory,
                "-XX:+UseSerialGC",
                "-cp",
                System.getProperty("java.class.path"),
                Question.class.getName(),
                file.toString(),
                clauses,
                out.toString()));
        long start = System.nanoTime();
        int status = new ProcessBuilder(command).inheritIO().start().waitFor();
        if (status != 0) {
            throw new IllegalStateException("ended with " + status + ": " + clauses);
        }
        return out + String.format(" %.1f", (System.nanoTime() - start) / 1e9);
    }

    /** One question in a process of its own. */
    public static final class Question {
        private Question() {}

        /** The file, the clauses, the file for the answer. */
        public static void main(String[] args) {
            try (Fiesta fiesta = Fiesta.open()) {
                fiesta.read(Path.of(args[0])).then(args[1]).run().writeCsv(Path.of(args[2]));
            }
        }
    }
}
