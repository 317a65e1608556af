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
import java.time.LocalDate;
import java.util.List;
import java.util.SplittableRandom;
import java.util.concurrent.Callable;

/** Questions to rows in memory, beside loops written for each over the same arrays, which use one thread. */
final class InMemory {
    private static final int TURNS = 7;
    private static final int WARM = 3;
    private static final int SITES = 6;

    private final int rows;
    private final int[] site;
    private final long[] day;
    private final long[] amount;
    private final long[] id;

    InMemory(int rows) {
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

    void compare() throws Exception {
        for (int threads = 1; threads <= 2; threads++) {
            try (Fiesta fiesta = Fiesta.with().threads(threads).memory(4L << 30).open()) {
                Table table = table(fiesta);
                Table months = table.per("site", "month = month(day)")
                        .give("n = count()", "s = sum(amount)", "m = mean(amount)");
                compare("group by a text and a month, 3 figures", "1.5", threads, months::run, this::grouped);
                Table ranks = table.add("r = rank(within site along amount desc)");
                compare("rank within partition", "2", threads, ranks::run, () -> sorted(amount));
                Table moving = table.add("m = mean(amount within site along id last 7)");
                compare("moving mean of 7", "2", threads, moving::run, () -> sorted(id));
                Table running = table.add("s = sum(amount within site along id running)");
                compare("running sum", "2", threads, running::run, () -> sorted(id));
                Table many = table.per("id").give("s = sum(amount)");
                compare("as many groups as rows, 1 sum", "3", threads, many::run, this::hashed);
            }
        }
    }

    private static void compare(String what, String reach, int threads, Callable<?> ours, Callable<?> theirs)
            throws Exception {
        for (int i = 0; i < WARM; i++) {
            ours.call();
            theirs.call();
        }
        TookTurns turns = TookTurns.of(TURNS, ours, theirs);
        System.out.printf("| %s, in memory | %d | %s | at most %s |%n", what, threads, turns, reach);
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

    /** A radix sort of pairs of key and row, by site and one of the fields. */
    private int[] sorted(long[] field) {
        long[] keys = new long[rows];
        int[] order = new int[rows];
        for (int i = 0; i < rows; i++) {
            keys[i] = (long) site[i] << 40 | field[i];
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
}
