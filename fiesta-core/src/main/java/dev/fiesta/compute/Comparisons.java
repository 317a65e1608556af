package dev.fiesta.compute;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Exact;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import dev.fiesta.value.Values;
import java.util.Arrays;

/**
 * Comparisons. An operator is three bits: whether less, equal and greater count as true; so one loop serves all six.
 */
final class Comparisons {
    static final int LESS = 1;
    static final int EQUAL = 2;
    static final int GREATER = 4;

    private Comparisons() {}

    /** Whether one of the signs that count as true can come of values within bounds. */
    static RowFunction.Chance chance(int accepted) {
        return args -> (accepted & LESS) != 0 && args.get(0).mayBeLess(args.get(1))
                || (accepted & EQUAL) != 0 && args.get(0).mayEqual(args.get(1))
                || (accepted & GREATER) != 0 && args.get(1).mayBeLess(args.get(0));
    }

    static RowFunction.Bound bind(int accepted, Arguments args) {
        Type a = args.type(0);
        Type b = args.type(1);
        refuseMix(args, a, b);
        if (a.kind() == Kind.EMPTY || b.kind() == Kind.EMPTY) {
            return RowFunction.Bound.safe(Type.TRUTH, (c, n) -> Column.constant(Type.TRUTH, null, n));
        }
        if (a.kind() == Kind.TEXT) {
            return new RowFunction.Bound(Type.TRUTH, false, notices -> new Texts(accepted));
        }
        if (a.isExact() && b.isExact() && a.scale() != b.scale()) {
            return RowFunction.Bound.safe(Type.TRUTH, (c, n) -> scaled(accepted, c, n));
        }
        if (a.kind() == Kind.TRUTH) {
            return RowFunction.Bound.safe(Type.TRUTH, (c, n) -> truths(accepted, c, n));
        }
        if (a.isLong() && b.isLong()) {
            return RowFunction.Bound.safe(Type.TRUTH, (c, n) -> longs(accepted, c, n));
        }
        if (a.equals(b)) {
            return RowFunction.Bound.safe(Type.TRUTH, (c, n) -> doubles(accepted, c, n));
        }
        return RowFunction.Bound.safe(Type.TRUTH, (c, n) -> mixed(accepted, c, n));
    }

    private static void refuseMix(Arguments args, Type a, Type b) {
        boolean fits = a.kind() == b.kind()
                || a.kind() == Kind.EMPTY
                || b.kind() == Kind.EMPTY
                || (a.isNumeric() && b.isNumeric());
        if (fits) {
            return;
        }
        String message = "'{}' is " + a.withArticle() + " and is compared with " + b.withArticle() + ".";
        if (a.kind() == Kind.DATETIME && b.kind() == Kind.DATE) {
            throw new Misuse(
                    0,
                    message,
                    "Compare the day: date({}). Otherwise the last day would count up to midnight at its start only.");
        }
        if (b.kind() == Kind.DATETIME && a.kind() == Kind.DATE) {
            throw new Misuse(1, "'{}' is a datetime and is compared with a date.", "Compare the day: date({}).");
        }
        if (a.kind() == Kind.TEXT && b.isNumeric()) {
            throw new Misuse(
                    0,
                    message,
                    "Write the value in single quotes, or convert the text: decimal({}, 2) or integer({}).");
        }
        if (b.kind() == Kind.TEXT && a.isNumeric()) {
            throw new Misuse(0, message, "Write the value without quotes, or convert one side: text({}).");
        }
        if (a.isTime() && b.kind() == Kind.TEXT) {
            throw new Misuse(0, message, "Dates are written without quotes: 2026-05-01.");
        }
        if (a.kind() == Kind.TEXT && b.isTime()) {
            throw new Misuse(0, message, "If it holds dates, convert it: date({}{pattern}).");
        }
        throw new Misuse(0, message, null);
    }

    private static int accept(int accepted, int sign) {
        return accepted >>> (sign + 1) & 1;
    }

    private static TruthColumn result(long[] bits, Column[] args, int rows) {
        long[] valid = Validity.both(args[0], args[1], rows);
        if (valid != null) {
            for (int i = 0; i < bits.length; i++) {
                bits[i] &= valid[i];
            }
        }
        return new TruthColumn(bits, rows, valid);
    }

    private static Column longs(int accepted, Column[] args, int rows) {
        long[] a = ((LongColumn) args[0]).values();
        long[] b = ((LongColumn) args[1]).values();
        int ma = args[0].mask();
        int mb = args[1].mask();
        long[] bits = Bits.none(rows);
        for (int i = 0; i < rows; i++) {
            bits[i >>> 6] |= (long) accept(accepted, Long.compare(a[i & ma], b[i & mb])) << i;
        }
        return result(bits, args, rows);
    }

    private static Column doubles(int accepted, Column[] args, int rows) {
        double[] a = ((DoubleColumn) args[0]).values();
        double[] b = ((DoubleColumn) args[1]).values();
        int ma = args[0].mask();
        int mb = args[1].mask();
        long[] bits = Bits.none(rows);
        for (int i = 0; i < rows; i++) {
            bits[i >>> 6] |= (long) accept(accepted, Double.compare(a[i & ma], b[i & mb])) << i;
        }
        return result(bits, args, rows);
    }

    private static Column truths(int accepted, Column[] args, int rows) {
        TruthColumn a = (TruthColumn) args[0];
        TruthColumn b = (TruthColumn) args[1];
        long[] bits = Bits.none(rows);
        for (int i = 0; i < rows; i++) {
            bits[i >>> 6] |= (long) accept(accepted, Boolean.compare(a.isTrue(i), b.isTrue(i))) << i;
        }
        return result(bits, args, rows);
    }

    private static Column scaled(int accepted, Column[] args, int rows) {
        LongColumn a = (LongColumn) args[0];
        LongColumn b = (LongColumn) args[1];
        int scale = Math.max(a.type().scale(), b.type().scale());
        long up = Values.power(scale - a.type().scale());
        long down = Values.power(scale - b.type().scale());
        long[] bits = Bits.none(rows);
        for (int i = 0; i < rows; i++) {
            long x = a.values()[i & a.mask()];
            long y = b.values()[i & b.mask()];
            int sign = Long.compare(Math.multiplyHigh(x, up), Math.multiplyHigh(y, down));
            sign = sign != 0 ? sign : Long.compareUnsigned(x * up, y * down);
            bits[i >>> 6] |= (long) accept(accepted, Integer.signum(sign)) << i;
        }
        return result(bits, args, rows);
    }

    private static Column mixed(int accepted, Column[] args, int rows) {
        boolean flipped = args[0] instanceof DoubleColumn;
        LongColumn exact = (LongColumn) args[flipped ? 1 : 0];
        DoubleColumn numbers = (DoubleColumn) args[flipped ? 0 : 1];
        int scale = exact.type().scale();
        long[] bits = Bits.none(rows);
        for (int i = 0; i < rows; i++) {
            int sign = Exact.compare(exact.values()[i & exact.mask()], scale, numbers.values()[i & numbers.mask()]);
            bits[i >>> 6] |= (long) accept(accepted, Integer.signum(flipped ? -sign : sign)) << i;
        }
        return result(bits, args, rows);
    }

    /** Texts against a constant are compared once for each code met, later rows only look the answer up. */
    private static final class Texts implements RowFunction.Body {
        private static final byte UNKNOWN = 0;

        private final int accepted;
        private Dictionary last = new Dictionary();
        private byte[] known = new byte[0];

        Texts(int accepted) {
            this.accepted = accepted;
        }

        @Override
        public Column apply(Column[] args, int rows) {
            TextColumn a = (TextColumn) args[0];
            TextColumn b = (TextColumn) args[1];
            long[] bits = b.isConstant() && !a.isConstant() ? againstConstant(a, b, rows) : rowByRow(a, b, rows);
            return result(bits, args, rows);
        }

        private long[] againstConstant(TextColumn a, TextColumn b, int rows) {
            long[] bits = Bits.none(rows);
            if (b.codes()[0] < 0) {
                return bits;
            }
            if (last != a.dictionary()) {
                last = a.dictionary();
                known = new byte[0];
            }
            if (known.length < last.size()) {
                known = Arrays.copyOf(known, last.size());
            }
            int[] codes = a.codes();
            for (int i = 0; i < rows; i++) {
                int code = codes[i];
                if (code >= 0) {
                    byte answer = known[code];
                    if (answer == UNKNOWN) {
                        int sign = Integer.signum(last.compare(code, b.dictionary(), b.codes()[0]));
                        answer = (byte) (2 + accept(accepted, sign));
                        known[code] = answer;
                    }
                    bits[i >>> 6] |= (long) (answer & 1) << i;
                }
            }
            return bits;
        }

        private long[] rowByRow(TextColumn a, TextColumn b, int rows) {
            long[] bits = Bits.none(rows);
            for (int i = 0; i < rows; i++) {
                int x = a.codes()[i & a.mask()];
                int y = b.codes()[i & b.mask()];
                if (x >= 0 && y >= 0) {
                    int sign = Integer.signum(a.dictionary().compare(x, b.dictionary(), y));
                    bits[i >>> 6] |= (long) accept(accepted, sign) << i;
                }
            }
            return bits;
        }
    }
}
