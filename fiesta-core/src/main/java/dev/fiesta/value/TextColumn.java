package dev.fiesta.value;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/** Texts as codes of a dictionary; the code of a missing row is -1. */
public final class TextColumn extends Column {
    private final int[] codes;
    private final Dictionary dictionary;

    /** One code a row; missing rows have the code -1 and no bit in {@code valid}. */
    public TextColumn(int[] codes, Dictionary dictionary, int size, long @Nullable [] valid) {
        this(codes, dictionary, size, false, valid);
    }

    TextColumn(int[] codes, Dictionary dictionary, int size, boolean constant, long @Nullable [] valid) {
        super(Type.TEXT, size, constant, valid);
        this.codes = codes;
        this.dictionary = dictionary;
    }

    /** One code a row; rows with the code -1 are missing. */
    public static TextColumn of(int[] codes, Dictionary dictionary, int size) {
        long[] valid = null;
        for (int i = 0; i < size; i++) {
            if (codes[i] < 0) {
                valid = Validity.without(valid, size, i);
            }
        }
        return new TextColumn(codes, dictionary, size, valid);
    }

    public int[] codes() {
        return codes;
    }

    public Dictionary dictionary() {
        return dictionary;
    }

    @Override
    public @Nullable String get(int row) {
        int code = codes[row & mask()];
        return code < 0 ? null : dictionary.text(code);
    }

    @Override
    public TextColumn take(int[] rows, int count) {
        int[] taken = new int[count];
        int mask = mask();
        for (int i = 0; i < count; i++) {
            taken[i] = rows[i] < 0 ? -1 : codes[rows[i] & mask];
        }
        return of(taken, dictionary, count);
    }

    @Override
    public Column range(int from, int count) {
        return valid() != null || isConstant()
                ? super.range(from, count)
                : new TextColumn(Arrays.copyOfRange(codes, from, from + count), dictionary, count, null);
    }

    @Override
    Column resized(int rows) {
        return isConstant() ? new TextColumn(codes, dictionary, rows, true, valid()) : this;
    }
}
