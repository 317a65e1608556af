package dev.fiesta.gather;

import dev.fiesta.compute.Misuse;
import dev.fiesta.gather.Extremes.By;
import dev.fiesta.gather.frames.Far;
import dev.fiesta.gather.frames.Sliding;
import dev.fiesta.gather.values.Drawer;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** {@code range}: the greatest less the least. */
final class Range implements Accumulator {
    private final Type type;
    private final Extremes least;
    private final Extremes greatest;

    Range(Type type) {
        this.type = type;
        this.least = new Extremes(By.LEAST, type, type, List.of());
        this.greatest = new Extremes(By.GREATEST, type, type, List.of());
    }

    static List<GatherFunction> functions() {
        return List.of(GatherFunction.of(
                "range",
                "range(x)",
                "The greatest value less the least; of dates, in days.",
                "range(takings)",
                "40.00",
                args -> {
                    Type type = GatherFunctions.one(args, "range(x)");
                    if (!type.isNumeric() && type.kind() != Kind.DATE && type.kind() != Kind.EMPTY) {
                        throw new Misuse(
                                0, "'{}' is " + type.withArticle() + ", but a range needs numbers or dates.", null);
                    }
                    Type figure = type.isTime() ? Type.INTEGER : type;
                    return new GatherFunction.Bound(figure, () -> new Range(type))
                            .carryingOn((frames, values, before) -> {
                                Range range = (Range) before;
                                return distance(
                                        type,
                                        Extremes.moving(frames, values, By.LEAST, range == null ? null : range.least),
                                        Extremes.moving(
                                                frames, values, By.GREATEST, range == null ? null : range.greatest));
                            })
                            .far(Far.holding(drawer -> new InFrame(type, drawer)));
                }));
    }

    @Override
    public void grow(int groups) {
        least.grow(groups);
        greatest.grow(groups);
    }

    @Override
    public void add(int[] groups, Column[] args, int rows, long order) {
        least.add(groups, args, rows, order);
        greatest.add(groups, args, rows, order);
    }

    @Override
    public void merge(Accumulator other, int[] into) {
        least.merge(((Range) other).least, into);
        greatest.merge(((Range) other).greatest, into);
    }

    @Override
    public Column finish(int groups) {
        return distance(type, least.finish(groups), greatest.finish(groups));
    }

    private static Column distance(Type type, Column low, Column high) {
        int size = low.size();
        if (high instanceof LongColumn a && low instanceof LongColumn b) {
            long[] out = new long[size];
            for (int i = 0; i < size; i++) {
                out[i] = a.values()[i] - b.values()[i];
            }
            return new LongColumn(type.isTime() ? Type.INTEGER : type, out, size, low.valid());
        }
        double[] out = new double[size];
        for (int i = 0; i < size; i++) {
            Double least = (Double) low.get(i);
            Double greatest = (Double) high.get(i);
            out[i] = least == null || greatest == null ? 0 : greatest - least;
        }
        return DoubleColumn.cleaned(out, size, low.valid());
    }

    @Override
    public long memory() {
        return least.memory() + greatest.memory();
    }

    @Override
    public void write(int group, DataOutput out) throws IOException {
        least.write(group, out);
        greatest.write(group, out);
    }

    @Override
    public void read(int group, DataInput in) throws IOException {
        least.read(group, in);
        greatest.read(group, in);
    }

    /** That of a frame that moves. */
    private static final class InFrame implements Sliding {
        private final Type type;
        private final Sliding least;
        private final Sliding greatest;

        InFrame(Type type, @Nullable Drawer drawer) {
            this.type = type;
            this.least = new SlidingExtremes(By.LEAST, type, type, drawer);
            this.greatest = new SlidingExtremes(By.GREATEST, type, type, drawer);
        }

        @Override
        public void coming(Column[] values) {
            least.coming(values);
            greatest.coming(values);
        }

        @Override
        public void going(Column[] values) {
            least.going(values);
            greatest.going(values);
        }

        @Override
        public void own(Column[] values, int rows) {
            least.own(values, rows);
            greatest.own(values, rows);
        }

        @Override
        public void come(int row) {
            least.come(row);
            greatest.come(row);
        }

        @Override
        public void go(int row) {
            least.go(row);
            greatest.go(row);
        }

        @Override
        public void look(int row) {
            least.look(row);
            greatest.look(row);
        }

        @Override
        public Column figures() {
            return distance(type, least.figures(), greatest.figures());
        }
    }
}
