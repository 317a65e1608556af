package dev.fiesta.source.files;

import java.util.ArrayList;
import java.util.List;

/** Which bytes of a file are looked at to work out what it holds: up to 16 MB all, else blocks spread evenly. */
public final class SampledBytes {
    private static final int WHOLE = 16 << 20;
    private static final int BLOCKS = 16;
    private static final int BLOCK = 1 << 18;

    private SampledBytes() {}

    /** Where blocks start and how long they are, for the bytes from {@code start} to before {@code end}. */
    public static List<long[]> blocks(long start, long end) {
        long length = end - start;
        if (length <= WHOLE) {
            return List.of(new long[] {start, length});
        }
        List<long[]> blocks = new ArrayList<>();
        for (int i = 0; i < BLOCKS; i++) {
            blocks.add(new long[] {start + (length - BLOCK) / (BLOCKS - 1) * i, BLOCK});
        }
        return blocks;
    }
}
