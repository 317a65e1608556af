package dev.fiesta.gather;

import dev.fiesta.compute.Arguments;
import dev.fiesta.compute.Misuse;
import dev.fiesta.gather.frames.SlidingRanks;
import dev.fiesta.gather.values.QuantilePosition;
import dev.fiesta.gather.values.RankedValues;
import dev.fiesta.gather.values.Selection;
import dev.fiesta.gather.values.Shelf;
import dev.fiesta.gather.values.Sorted;
import dev.fiesta.gather.values.SortedFigure;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Exact;
import dev.fiesta.value.Halving;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.io.DataInput;
import java.io.DataOutput;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.Arrays;
import java.util.List;
import java.util.function.ToDoubleFunction;
import org.jspecify.annotations.Nullable;

/** Figures that are told from the values of a group in their order: quantiles, and means of some of them. Rounded once. */
final class OfSorted extends Collected {
    private static final BigDecimal HALF = new BigDecimal("0.5");

    private final Type type;
    private final Figure figure;
    /** How many other figures are told from these values, and how many figures have been. */
    private int views;

    private int told;
    /** Until all figures are told. */
    private @Nullable Together together;

    private OfSorted(Type type, Figure figure) {
        super(type, null);
        this.type = type;
        this.figure = figure;
    }

    /**
     * What is told.
     *
     * @param part of a quantile, which looks at one or two of the values; null where all are looked at
     */
    private record Figure(
            ToDoubleFunction<Sorted> of, @Nullable BigDecimal part) {}

    static List<GatherFunction> functions() {
        return List.of(
                GatherFunction.of(
                        "median",
                        "median(x)",
                        "The value in the middle, or the mean of the two there.",
                        "median(takings)",
                        "20",
                        args -> {
                            args.expectCount(1, 1, "median(x)");
                            return quantile(GatherFunctions.numeric(args, "median(x)"), HALF);
                        }),
                GatherFunction.of(
                        "quantile",
                        "quantile(x, p)",
                        "The value below which the part p lies, interpolated between neighbours.",
                        "quantile(takings, 0.25)",
                        "17.5",
                        args -> {
                            args.expectCount(2, 2, "quantile(x, p)");
                            return quantile(
                                    GatherFunctions.numeric(args, "quantile(x, p)"),
                                    part(args, "The part of a quantile"));
                        }),
                GatherFunction.of(
                        "trimmed_mean",
                        "trimmed_mean(x, p)",
                        "The mean without the least and the greatest values: at each end the part p of them, rounded down.",
                        "trimmed_mean(takings, 0.25)",
                        "20",
                        args -> {
                            args.expectCount(2, 2, "trimmed_mean(x, p)");
                            Type type = GatherFunctions.numeric(args, "trimmed_mean(x, p)");
                            BigDecimal part = part(args, "The part that is left out");
                            if (part.compareTo(HALF) >= 0) {
                                throw new Misuse(
                                        1,
                                        "With {} taken away at each end no value is left.",
                                        "Write a part below 0.5, for instance 0.1.");
                            }
                            return bound(type, true, new Figure(values -> trimmedMean(values, part), null));
                        }),
                GatherFunction.of(
                        "mean_abs_deviation",
                        "mean_abs_deviation(x)",
                        "The mean distance from the mean.",
                        "mean_abs_deviation(takings)",
                        "12.5",
                        args -> {
                            args.expectCount(1, 1, "mean_abs_deviation(x)");
                            Type type = GatherFunctions.numeric(args, "mean_abs_deviation(x)");
                            return bound(type, true, new Figure(OfSorted::meanDistance, null));
                        }));
    }

    private static GatherFunction.Bound quantile(Type type, BigDecimal part) {
        return bound(type, false, new Figure(values -> quantile(values, part), part));
    }

    /** @param sums whether the figure asks for sums */
    private static GatherFunction.Bound bound(Type type, boolean sums, Figure figure) {
        SortedFigure told = new SortedFigure(type, sums, figure.of());
        return new GatherFunction.Bound(Type.REAL, () -> new OfSorted(type, figure))
                .ranked(all -> new SlidingRanks(told, new RankedValues(told, all)));
    }

    private static BigDecimal part(Arguments args, String what) {
        Object part = args.isConstant(1) ? args.constant(1) : null;
        BigDecimal exact = part instanceof Long n ? BigDecimal.valueOf(n) : part instanceof BigDecimal d ? d : null;
        if (exact == null || exact.signum() < 0 || exact.compareTo(BigDecimal.ONE) > 0) {
            throw new Misuse(1, what + " is a decimal from 0 to 1, written out.", "Write for instance 0.9.");
        }
        return exact;
    }

    @Override
    public boolean mayView(Accumulator other) {
        return other instanceof OfSorted sorted && sorted.type.equals(type);
    }

    @Override
    public Accumulator view(Accumulator other) {
        OfSorted values = (OfSorted) other;
        values.views++;
        return new View(values, figure);
    }

    private synchronized Column finish(Figure wanted, int count) {
        Shelf away = away();
        return away == null ? figures(count, wanted) : figures(away, count, wanted);
    }

    @Override
    Column figures(int count) {
        return figures(count, figure);
    }

    private Column figures(int count, Figure wanted) {
        Together values = together;
        if (values == null || !values.isOf(held(), size(), count)) {
            int[] starts = new int[count + 1];
            values = new Together(sideBySide(starts), starts, held(), size());
            together = values;
        }
        Column figures = figures(values, count, wanted);
        told++;
        if (told > views) {
            together = null;
            told = 0;
        }
        return figures;
    }

    /** The values of each group together. */
    private static final class Together {
        final long[] values;
        final int[] starts;
        private final long[] from;
        private final int size;
        private boolean isSorted;

        /** @param from where they are from, {@code size} how many there were */
        Together(long[] values, int[] starts, long[] from, int size) {
            this.values = values;
            this.starts = starts;
            this.from = from;
            this.size = size;
        }

        /** Whether nothing has come or gone since. */
        boolean isOf(long[] held, int count, int groups) {
            return from == held && size == count && starts.length == groups + 1;
        }

        /** Sorts a group, or puts those in their places that a quantile looks at. */
        void order(int group, @Nullable BigDecimal part) {
            int from = starts[group];
            int to = starts[group + 1];
            if (isSorted) {
                return;
            }
            if (part == null) {
                Arrays.sort(values, from, to);
                return;
            }
            int below = from + QuantilePosition.of(part, to - from).below();
            Selection.put(values, from, to, below);
            if (below + 1 < to) {
                Selection.least(values, below + 1, to);
            }
        }
    }

    @Override
    Column figures(Shelf all, int count) {
        return figures(all, count, figure);
    }

    private Column figures(Together all, int count, Figure wanted) {
        double[] out = new double[count];
        long[] valid = null;
        for (int g = 0; g < count; g++) {
            int from = all.starts[g];
            int to = all.starts[g + 1];
            if (from == to) {
                valid = Validity.without(valid, count, g);
                continue;
            }
            all.order(g, wanted.part());
            out[g] = wanted.of().applyAsDouble(new Sorted.Held(type, all.values, from, to));
        }
        all.isSorted |= wanted.part() == null;
        return DoubleColumn.cleaned(out, count, valid);
    }

    private Column figures(Shelf all, int count, Figure wanted) {
        Shelf.ByGroup byGroup = all.byGroup(count);
        Sorted.Paged values = new Sorted.Paged(type, byGroup.values());
        double[] out = new double[count];
        long[] valid = null;
        for (int g = 0; g < count; g++) {
            values.show(byGroup.starts()[g], byGroup.starts()[g + 1]);
            if (values.size() == 0) {
                valid = Validity.without(valid, count, g);
            } else {
                out[g] = wanted.of().applyAsDouble(values);
            }
        }
        return DoubleColumn.cleaned(out, count, valid);
    }

    /** A figure that is told from the values that another one gathers. */
    private record View(OfSorted values, Figure figure) implements Accumulator {
        @Override
        public boolean isView() {
            return true;
        }

        @Override
        public Accumulator gathering() {
            return values;
        }

        @Override
        public void grow(int groups) {}

        @Override
        public void add(int[] groups, Column[] args, int rows, long order) {}

        @Override
        public void merge(Accumulator other, int[] into) {}

        @Override
        public Column finish(int groups) {
            return values.finish(figure, groups);
        }

        @Override
        public long memory() {
            return 0;
        }

        @Override
        public void write(int group, DataOutput out) {}

        @Override
        public void read(int group, DataInput in) {}
    }

    /** Linear interpolation between order statistics. */
    private static double quantile(Sorted values, BigDecimal part) {
        QuantilePosition at = QuantilePosition.of(part, values.size());
        long low = values.value(at.below());
        long high = at.below() + 1 < values.size() ? values.value(at.below() + 1) : low;
        return at.between(values.type(), low, high);
    }

    private static double trimmedMean(Sorted values, BigDecimal part) {
        int off = part.multiply(BigDecimal.valueOf(values.size())).intValue();
        BigInteger left = BigInteger.valueOf(values.size() - 2L * off);
        return Exact.quotient(values.sum(off, values.size() - off), left.multiply(values.unit()));
    }

    /** Values lie as far above the mean as below it: twice the distances above it, over their number. */
    private static double meanDistance(Sorted values) {
        int size = values.size();
        BigInteger count = BigInteger.valueOf(size);
        BigInteger sum = values.sum(0, size);
        int low = Halving.behind(
                0, size, i -> values.sum(i, i + 1).multiply(count).compareTo(sum) <= 0);
        BigInteger above = values.sum(low, size).multiply(count).subtract(sum.multiply(BigInteger.valueOf(size - low)));
        return Exact.quotient(above.shiftLeft(1), count.multiply(count).multiply(values.unit()));
    }
}
