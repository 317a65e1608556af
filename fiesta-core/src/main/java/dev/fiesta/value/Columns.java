package dev.fiesta.value;

import java.util.Arrays;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Makes columns from objects and from other columns. */
final class Columns {
    /** A dictionary of fewer texts may be that of others. */
    private static final int FEWEST_OTHERS = 1 << 10;

    /** One of at most so many times the rows too. */
    private static final int OTHERS = 4;

    private Columns() {}

    static Column of(Type type, List<? extends @Nullable Object> values, boolean constant) {
        int size = values.size();
        long[] valid = null;
        for (int i = 0; i < size; i++) {
            if (values.get(i) == null) {
                valid = Validity.without(valid, size, i);
            }
        }
        return switch (type.kind()) {
            case TEXT -> texts(values, constant, valid);
            case TRUTH -> truths(values, constant, valid);
            case REAL -> numbers(values, constant, valid);
            default -> longs(type, values, constant, valid);
        };
    }

    private static Column texts(List<? extends @Nullable Object> values, boolean constant, long @Nullable [] valid) {
        Dictionary dictionary = new Dictionary();
        int[] codes = new int[values.size()];
        for (int i = 0; i < codes.length; i++) {
            codes[i] = values.get(i) instanceof String text ? dictionary.intern(text) : -1;
        }
        return new TextColumn(codes, dictionary, codes.length, constant, valid);
    }

    private static Column truths(List<? extends @Nullable Object> values, boolean constant, long @Nullable [] valid) {
        long[] bits = Bits.none(values.size());
        for (int i = 0; i < values.size(); i++) {
            if (Boolean.TRUE.equals(values.get(i))) { // reflection makes others than the two constants
                Bits.set(bits, i);
            }
        }
        return new TruthColumn(bits, values.size(), constant, valid);
    }

    private static Column numbers(List<? extends @Nullable Object> values, boolean constant, long @Nullable [] valid) {
        double[] doubles = new double[values.size()];
        for (int i = 0; i < doubles.length; i++) {
            doubles[i] = values.get(i) instanceof Number number ? number.doubleValue() + 0.0 : 0;
        }
        return new DoubleColumn(doubles, doubles.length, constant, valid);
    }

    private static Column longs(
            Type type, List<? extends @Nullable Object> values, boolean constant, long @Nullable [] valid) {
        long[] longs = new long[values.size()];
        for (int i = 0; i < longs.length; i++) {
            Object value = values.get(i);
            longs[i] = value == null ? 0 : Values.toLong(type, value);
        }
        return new LongColumn(type, longs, longs.length, constant, valid);
    }

    static Column join(Type type, List<Column> parts) {
        if (parts.size() == 1 && parts.get(0).type().equals(type)) {
            return parts.get(0).flat();
        }
        int size = parts.stream().mapToInt(Column::size).reduce(0, Math::addExact);
        long[] valid = validity(parts, size);
        return switch (type.kind()) {
            case TEXT -> joinTexts(parts, size, valid);
            case TRUTH -> joinTruths(parts, size, valid);
            case REAL -> joinNumbers(parts, size, valid);
            default -> joinLongs(type, parts, size, valid);
        };
    }

    /** @see Column#held */
    static Column held(Column column) {
        boolean others = column instanceof TextColumn texts
                && texts.dictionary().size() > Math.max(FEWEST_OTHERS, OTHERS * column.size());
        return others ? joinTexts(List.of(column), column.size(), column.valid()) : column;
    }

    private static long @Nullable [] validity(List<Column> parts, int size) {
        long[] valid = null;
        int at = 0;
        for (Column part : parts) {
            if (part.valid() != null) {
                for (int i = 0; i < part.size(); i++) {
                    if (part.isMissing(i)) {
                        valid = Validity.without(valid, size, at + i);
                    }
                }
            }
            at += part.size();
        }
        return valid;
    }

    private static Column joinTexts(List<Column> parts, int size, long @Nullable [] valid) {
        Dictionary all = new Dictionary();
        int[] codes = new int[size];
        int at = 0;
        // Workers have a dictionary each and take turns: what was translated of one holds when it comes again.
        // Texts that no row has are left behind: rows picked from others have the dictionary of all.
        Map<Dictionary, int[]> translations = new IdentityHashMap<>();
        for (Column part : parts) {
            if (!(part instanceof TextColumn texts)) {
                Arrays.fill(codes, at, at + part.size(), -1);
                at += part.size();
                continue;
            }
            Dictionary own = texts.dictionary();
            int[] translation = translations.getOrDefault(own, new int[0]);
            if (translation.length < own.size()) {
                translation = Arrays.copyOf(translation, own.size());
                translations.put(own, translation);
            }
            int mask = texts.mask();
            for (int i = 0; i < part.size(); i++) {
                int code = texts.codes()[i & mask];
                if (code >= 0 && translation[code] == 0) {
                    translation[code] = all.intern(own, code) + 1;
                }
                codes[at++] = code < 0 ? -1 : translation[code] - 1;
            }
        }
        return new TextColumn(codes, all, size, valid);
    }

    private static Column joinTruths(List<Column> parts, int size, long @Nullable [] valid) {
        long[] bits = Bits.none(size);
        int at = 0;
        for (Column part : parts) {
            for (int i = 0; i < part.size(); i++, at++) {
                if (part instanceof TruthColumn truths && truths.isTrue(i)) {
                    Bits.set(bits, at);
                }
            }
        }
        return new TruthColumn(bits, size, valid);
    }

    private static Column joinNumbers(List<Column> parts, int size, long @Nullable [] valid) {
        double[] doubles = new double[size];
        int at = 0;
        for (Column part : parts) {
            if (part instanceof DoubleColumn numbers && !part.isConstant()) {
                System.arraycopy(numbers.values(), 0, doubles, at, part.size());
            } else {
                for (int i = 0; i < part.size(); i++) {
                    doubles[at + i] = part.get(i) instanceof Number number ? number.doubleValue() : 0;
                }
            }
            at += part.size();
        }
        return new DoubleColumn(doubles, size, valid);
    }

    private static Column joinLongs(Type type, List<Column> parts, int size, long @Nullable [] valid) {
        long[] longs = new long[size];
        int at = 0;
        for (Column part : parts) {
            if (part.type().equals(type) && part instanceof LongColumn same && !part.isConstant()) {
                System.arraycopy(same.values(), 0, longs, at, part.size());
            } else {
                for (int i = 0; i < part.size(); i++) {
                    Object value = part.get(i);
                    longs[at + i] = value == null ? 0 : Values.toLong(type, value);
                }
            }
            at += part.size();
        }
        return new LongColumn(type, longs, size, valid);
    }
}
