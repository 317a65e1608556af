package dev.fiesta.benchmarks;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.TreeMap;

/**
 * The main question as a program written for it alone: settled sales by site and item; count, sum, mean, least and greatest
 * amount. It knows the columns, trusts the file, and looks at no byte behind the amount but for the line end.
 */
final class HandWritten {
    private static final int BLOCK = 1 << 20;
    private static final byte[] SETTLED = "settled".getBytes(StandardCharsets.US_ASCII);

    private final String[] names = new String[4096];
    private final int[] hashes = new int[4096];
    private final byte[][] keys = new byte[4096][];
    private final long[] counts = new long[4096];
    private final long[] sums = new long[4096];
    private final long[] least = new long[4096];
    private final long[] greatest = new long[4096];

    private HandWritten() {
        Arrays.fill(least, Long.MAX_VALUE);
        Arrays.fill(greatest, Long.MIN_VALUE);
    }

    /** A line for each group, in the order of the keys. */
    static List<String> answer(Path file, int threads) throws IOException, InterruptedException {
        try (FileChannel channel = FileChannel.open(file, StandardOpenOption.READ)) {
            long size = channel.size();
            HandWritten[] parts = new HandWritten[threads];
            Thread[] workers = new Thread[threads];
            for (int t = 0; t < threads; t++) {
                HandWritten part = parts[t] = new HandWritten();
                long from = size * t / threads;
                long to = size * (t + 1) / threads;
                workers[t] = new Thread(() -> part.read(channel, from, to));
                workers[t].start();
            }
            for (Thread worker : workers) {
                worker.join();
            }
            for (int t = 1; t < threads; t++) {
                parts[0].merge(parts[t]);
            }
            return parts[0].lines();
        }
    }

    /** Lines that start from one place to before another; the first of the file is its header. */
    private void read(FileChannel channel, long from, long to) {
        byte[] bytes = new byte[BLOCK + 4096];
        long base = Math.max(0, from - 1);
        int kept = 0;
        boolean first = true;
        try {
            while (true) {
                int filled = kept;
                ByteBuffer buffer = ByteBuffer.wrap(bytes, kept, bytes.length - kept);
                int count = channel.read(buffer, base + kept);
                filled += Math.max(0, count);
                int at = 0;
                if (first) {
                    at = next(bytes, 0, filled);
                    first = false;
                }
                while (true) {
                    int end = next(bytes, at, filled);
                    if (end < 0 || base + at >= to) {
                        break;
                    }
                    line(bytes, at);
                    at = end;
                }
                if (count <= 0 || base + at >= to) {
                    return;
                }
                kept = filled - at;
                System.arraycopy(bytes, at, bytes, 0, kept);
                base += at;
            }
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    private static int next(byte[] bytes, int from, int filled) {
        for (int i = from; i < filled; i++) {
            if (bytes[i] == '\n') {
                return i + 1;
            }
        }
        return -1;
    }

    private void line(byte[] b, int start) {
        int i = skip(b, skip(b, start));
        int site = i;
        i = skip(b, i);
        int siteEnd = i - 1;
        i = skip(b, i);
        int item = i;
        i = skip(b, i);
        int itemEnd = i - 1;
        i = skip(b, i);
        int status = i;
        i = skip(b, i);
        if (i - 1 - status != SETTLED.length || b[status] != 's') {
            return;
        }
        i = skip(b, i);
        boolean negative = b[i] == '-';
        i += negative ? 1 : 0;
        long amount = 0;
        for (; b[i] != ','; i++) {
            if (b[i] != '.') {
                amount = amount * 10 + b[i] - '0';
            }
        }
        int group = group(b, site, siteEnd, item, itemEnd);
        amount = negative ? -amount : amount;
        counts[group]++;
        sums[group] += amount;
        least[group] = Math.min(least[group], amount);
        greatest[group] = Math.max(greatest[group], amount);
    }

    private static int skip(byte[] b, int from) {
        int i = from;
        while (b[i] != ',') {
            i++;
        }
        return i + 1;
    }

    private int group(byte[] b, int site, int siteEnd, int item, int itemEnd) {
        int hash = 1;
        for (int i = site; i < siteEnd; i++) {
            hash = hash * 31 + b[i];
        }
        hash = hash * 31 + ',';
        for (int i = item; i < itemEnd; i++) {
            hash = hash * 31 + b[i];
        }
        int length = siteEnd - site + 1 + itemEnd - item;
        int slot = (hash ^ hash >>> 15) & 4095;
        while (keys[slot] != null) {
            if (hashes[slot] == hash
                    && keys[slot].length == length
                    && same(keys[slot], b, site, siteEnd, item, itemEnd)) {
                return slot;
            }
            slot = slot + 1 & 4095;
        }
        byte[] key = new byte[length];
        System.arraycopy(b, site, key, 0, siteEnd - site);
        key[siteEnd - site] = ',';
        System.arraycopy(b, item, key, siteEnd - site + 1, itemEnd - item);
        keys[slot] = key;
        hashes[slot] = hash;
        names[slot] = new String(key, StandardCharsets.UTF_8);
        return slot;
    }

    private static boolean same(byte[] key, byte[] b, int site, int siteEnd, int item, int itemEnd) {
        int k = 0;
        for (int i = site; i < siteEnd; i++) {
            if (key[k++] != b[i]) {
                return false;
            }
        }
        k++;
        for (int i = item; i < itemEnd; i++) {
            if (key[k++] != b[i]) {
                return false;
            }
        }
        return true;
    }

    private void merge(HandWritten other) {
        for (int i = 0; i < other.keys.length; i++) {
            byte[] key = other.keys[i];
            if (key != null) {
                int comma = other.names[i].indexOf(',');
                int group = group(key, 0, comma, comma + 1, key.length);
                counts[group] += other.counts[i];
                sums[group] += other.sums[i];
                least[group] = Math.min(least[group], other.least[i]);
                greatest[group] = Math.max(greatest[group], other.greatest[i]);
            }
        }
    }

    private List<String> lines() {
        TreeMap<String, String> lines = new TreeMap<>();
        for (int i = 0; i < keys.length; i++) {
            if (keys[i] != null) {
                String mean = dev.fiesta.value.ShortestNumber.of((double) sums[i] / (counts[i] * 100.0));
                // The missing site is an empty cell, and stands last.
                String place = names[i].startsWith(",") ? "\uFFFF" + names[i] : names[i];
                lines.put(
                        place.replace(',', '\u0000'),
                        names[i] + "," + counts[i] + "," + cents(sums[i]) + "," + mean + "," + cents(least[i]) + ","
                                + cents(greatest[i]));
            }
        }
        return new ArrayList<>(lines.values());
    }

    private static String cents(long value) {
        return java.math.BigDecimal.valueOf(value, 2).toPlainString();
    }
}
