package dev.fiesta.gather.values;

import java.util.Arrays;

/** Arrays that grow by doubling. */
public final class Grow {
    private Grow() {}

    static int room(int have, int need) {
        return need <= have ? have : (int) Math.max(need, Math.min(Integer.MAX_VALUE - 8L, Math.max(16L, have * 2L)));
    }

    public static long[] to(long[] array, int need) {
        return need <= array.length ? array : Arrays.copyOf(array, room(array.length, need));
    }

    public static int[] to(int[] array, int need) {
        return need <= array.length ? array : Arrays.copyOf(array, room(array.length, need));
    }
}
