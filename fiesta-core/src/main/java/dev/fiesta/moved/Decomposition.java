package dev.fiesta.moved;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * What each group has added to the move of a figure. All is exact; the parts add up to the whole.
 *
 * <p>Of a sum, a part is the difference of the group's sums, which is divided into more or fewer records, and higher or lower values:
 * {@code (n1 - n0)(m0 + m1)/2} and {@code (m1 - m0)(n0 + n1)/2}, where {@code n} counts records and {@code m} is their mean. Of a ratio
 * {@code M = sum of a / sum of b} it is divided into a larger or smaller share of all, and a higher or lower ratio of its own:
 * {@code (w1 - w0)((m0 + m1)/2 - (M0 + M1)/2)} and {@code (m1 - m0)(w0 + w1)/2}, where {@code w} is the group's share of the sum of
 * {@code b} and {@code m} its own ratio. (The symmetric form of a known way to divide a difference: Bennet, 1920; Marshall and Edgeworth.)
 */
public final class Decomposition {
    /**
     * What a group has on one side.
     *
     * @param above what is added up
     * @param base how many values, or what is divided by
     */
    public record Pair(Fraction above, Fraction base) {
        static final Pair NOTHING = new Pair(Fraction.ZERO, Fraction.ZERO);
    }

    /**
     * A group on both sides.
     *
     * @param before null where it is not there
     */
    public record Group(@Nullable Pair before, @Nullable Pair after) {
        Pair first() {
            return before == null ? Pair.NOTHING : before;
        }

        Pair second() {
            return after == null ? Pair.NOTHING : after;
        }
    }

    /**
     * What a group has added.
     *
     * @param before its figure, null where there is none
     * @param whole what it has added
     * @param amount the part of that by more or fewer records, or by a larger or smaller share
     * @param level the part by higher or lower values
     */
    public record Part(
            @Nullable Fraction before, @Nullable Fraction after, Fraction whole, Fraction amount, Fraction level) {}

    private final @Nullable Fraction before;
    private final @Nullable Fraction after;
    private final List<Part> parts;

    private Decomposition(@Nullable Fraction before, @Nullable Fraction after, List<Part> parts) {
        this.before = before;
        this.after = after;
        this.parts = List.copyOf(parts);
    }

    /** {@return of a sum; a group that is not there has 0} */
    public static Decomposition ofSum(List<Group> groups) {
        List<Part> parts = new ArrayList<>();
        Fraction first = Fraction.ZERO;
        Fraction second = Fraction.ZERO;
        for (Group group : groups) {
            Pair a = group.first();
            Pair b = group.second();
            Fraction m0 = mean(a, b);
            Fraction m1 = mean(b, a);
            Fraction amount = b.base().minus(a.base()).times(m0.plus(m1).half());
            Fraction level = m1.minus(m0).times(a.base().plus(b.base()).half());
            parts.add(new Part(a.above(), b.above(), b.above().minus(a.above()), amount, level));
            first = first.plus(a.above());
            second = second.plus(b.above());
        }
        return new Decomposition(first, second, parts);
    }

    /** Where there is nothing to be divided by, the mean is that of the other side. */
    private static Fraction mean(Pair of, Pair other) {
        Pair known = of.base().isZero() ? other : of;
        return known.base().isZero() ? Fraction.ZERO : known.above().over(known.base());
    }

    /**
     * Of a ratio.
     *
     * @throws ArithmeticException when there is nothing to divide by on one side
     */
    public static Decomposition ofRatio(List<Group> groups) {
        Fraction base0 = sum(groups.stream().map(g -> g.first().base()).toList());
        Fraction base1 = sum(groups.stream().map(g -> g.second().base()).toList());
        Fraction all0 =
                sum(groups.stream().map(g -> g.first().above()).toList()).over(base0);
        Fraction all1 =
                sum(groups.stream().map(g -> g.second().above()).toList()).over(base1);
        Fraction middle = all0.plus(all1).half();
        List<Part> parts = new ArrayList<>();
        for (Group group : groups) {
            Pair a = group.first();
            Pair b = group.second();
            Fraction w0 = a.base().over(base0);
            Fraction w1 = b.base().over(base1);
            Fraction share = w1.minus(w0);
            boolean odd = isOdd(a) || isOdd(b);
            Fraction amount;
            Fraction level;
            if (odd) { // something without a base: it moves the whole by its own height
                amount = Fraction.ZERO;
                level = b.above().over(base1).minus(a.above().over(base0)).minus(middle.times(share));
            } else {
                Fraction m0 = mean(a, b);
                Fraction m1 = mean(b, a);
                amount = share.times(m0.plus(m1).half().minus(middle));
                level = m1.minus(m0).times(w0.plus(w1).half());
            }
            parts.add(new Part(ratio(group.before()), ratio(group.after()), amount.plus(level), amount, level));
        }
        return new Decomposition(all0, all1, parts);
    }

    private static boolean isOdd(Pair pair) {
        return pair.base().isZero() && !pair.above().isZero();
    }

    private static @Nullable Fraction ratio(@Nullable Pair pair) {
        return pair == null || pair.base().isZero() ? null : pair.above().over(pair.base());
    }

    private static Fraction sum(List<Fraction> all) {
        return all.stream().reduce(Fraction.ZERO, Fraction::plus);
    }

    /** {@return the figure of all groups together} */
    public @Nullable Fraction before() {
        return before;
    }

    public @Nullable Fraction after() {
        return after;
    }

    /** {@return what each group has added, in their order} */
    public List<Part> parts() {
        return parts;
    }

    /**
     * Fractions with so many digits behind the point, so that what is written adds up to their sum as that is written: those that lose most by
     * being cut are written one unit greater, of equal ones the first.
     */
    public static List<BigDecimal> written(List<Fraction> fractions, int digits) {
        List<BigDecimal> cut = new ArrayList<>(fractions.stream()
                .map(f -> f.rounded(digits, RoundingMode.FLOOR))
                .toList());
        BigDecimal whole = sum(fractions).rounded(digits, RoundingMode.HALF_EVEN);
        BigDecimal unit = BigDecimal.ONE.movePointLeft(digits);
        int lacking = whole.subtract(cut.stream().reduce(BigDecimal.ZERO, BigDecimal::add))
                .divide(unit)
                .intValueExact();
        List<Integer> order = IntStream.range(0, fractions.size())
                .boxed()
                .sorted(Comparator.comparing((Integer i) -> fractions.get(i).minus(Fraction.of(cut.get(i))))
                        .reversed())
                .toList();
        for (int i = 0; i < lacking; i++) {
            cut.set(order.get(i), cut.get(order.get(i)).add(unit));
        }
        return cut;
    }
}
