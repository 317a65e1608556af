package dev.fiesta.gather;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.compute.Arguments;
import dev.fiesta.compute.CalendarSettings;
import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.gather.values.AlongKey;
import dev.fiesta.gather.values.LongSums;
import dev.fiesta.gather.values.WideSums;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.SplittableRandom;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** However rows are parted among accumulators, merged, written out and read back: the figures stay the same. */
class AccumulatorTest {
    private static final int GROUPS = 5;

    static Stream<GatherFunction> functions() {
        return GatherFunctions.all().stream();
    }

    private static List<Type> types(GatherFunction function) {
        return switch (function.name()) {
            case "any", "all", "count_if" -> List.of(Type.TRUTH);
            case "count_distinct", "min", "max", "mode", "first", "last", "list" ->
                List.of(Type.decimal(2), Type.REAL, Type.TEXT, Type.TRUTH, Type.DATE);
            case "at_max", "at_min" -> List.of(Type.TEXT, Type.decimal(2));
            default -> List.of(Type.decimal(2), Type.REAL, Type.INTEGER);
        };
    }

    private static GatherFunction.Bound bind(GatherFunction function, Type type) {
        List<Expression> args = new ArrayList<>();
        args.add(new FieldRef(0, type));
        switch (function.name()) {
            case "quantile", "trimmed_mean" -> args.add(new Constant(Type.decimal(1), new BigDecimal("0.3")));
            case "at_max", "at_min", "correlation", "weighted_mean" -> args.add(new FieldRef(1, Type.REAL));
            default -> {}
        }
        return function.rule().bind(new Arguments(args, CalendarSettings.NORMAL));
    }

    private static Column column(Type type, int rows, SplittableRandom random) {
        List<Object> values = new ArrayList<>();
        for (int i = 0; i < rows; i++) {
            int n = random.nextInt(12);
            values.add(
                    n == 0
                            ? null
                            : switch (type.kind()) {
                                case TEXT -> "item " + n;
                                case TRUTH -> n > 6;
                                case REAL -> (n - 5) * Math.pow(2, random.nextInt(-40, 40));
                                case DATE -> java.time.LocalDate.of(2026, 5, n);
                                case INTEGER -> n * 1000L;
                                default -> BigDecimal.valueOf(n * 377L - 900, 2);
                            });
        }
        return Column.of(type, values);
    }

    @ParameterizedTest
    @MethodSource("functions")
    void partedMergedAndWrittenOutGivesTheSame(GatherFunction function) throws IOException {
        for (Type type : types(function)) {
            GatherFunction.Bound bound = bind(function, type);
            partedAndWhole(function.name() + " of " + type, bound, type, arity(function), List.of());
            if (function.looksAtOrder()) {
                List<AlongKey> keys = List.of(new AlongKey(Type.TEXT, true), new AlongKey(Type.REAL, false));
                partedAndWhole(
                        function.name() + " of " + type + " along", bound.along(keys), type, arity(function), keys);
            }
        }
    }

    private static void partedAndWhole(
            String what, GatherFunction.Bound bound, Type type, int arity, List<AlongKey> along) throws IOException {
        SplittableRandom random = new SplittableRandom(11);
        Accumulator whole = bound.empty(GROUPS);
        Accumulator[] parts = {bound.empty(GROUPS), bound.empty(GROUPS), bound.empty(GROUPS)};
        for (int batch = 0; batch < 12; batch++) {
            int rows = random.nextInt(40);
            List<Column> args = new ArrayList<>(List.of(column(type, rows, random), column(Type.REAL, rows, random))
                    .subList(0, arity));
            along.forEach(k -> args.add(column(k.type(), rows, random)));
            int[] groups = new int[rows];
            for (int i = 0; i < rows; i++) {
                groups[i] = random.nextInt(GROUPS - 1);
            }
            Column[] taken = args.toArray(Column[]::new);
            whole.add(groups, taken, rows, batch * 1000L);
            Accumulator part = parts[random.nextInt(3)];
            part.add(groups, taken, rows, batch * 1000L);
            if (!(part instanceof Collected) || part instanceof Listed) {
                part.putAway(() -> {
                    throw new AssertionError(what + " needs no shelf");
                });
            }
        }
        int[] same = {0, 1, 2, 3, 4};
        parts[2].merge(parts[0], same);
        Accumulator revived = bound.empty(GROUPS);
        for (int group = 0; group < GROUPS; group++) {
            copy(parts[2], revived, group);
            copy(parts[1], revived, group);
        }
        assertThat(list(revived.finish(GROUPS))).as(what).isEqualTo(list(whole.finish(GROUPS)));
        assertThat(list(whole.finish(GROUPS)).get(GROUPS - 1))
                .as(what + " over nothing")
                .isIn(null, 0L);
    }

    /** Texts that have not won are forgotten where they would fill the memory. */
    @Test
    void greatestTextsOfManyTakeLittle() {
        for (String name : List.of("max", "first", "at_max")) {
            GatherFunction.Bound bound = bind(Objects.requireNonNull(GatherFunctions.find(name)), Type.TEXT);
            Accumulator one = bound.empty(1);
            for (int batch = 0; batch < 20; batch++) {
                List<Object> texts = new ArrayList<>();
                List<Object> numbers = new ArrayList<>();
                for (int i = 0; i < 1000; i++) {
                    texts.add("a text that no other row has, number " + (batch * 1000 + i));
                    numbers.add((double) i);
                }
                Column[] args = {Column.of(Type.TEXT, texts), Column.of(Type.REAL, numbers)};
                one.add(new int[1000], name.equals("at_max") ? args : new Column[] {args[0]}, 1000, batch * 1000L);
                one.putAway(() -> {
                    throw new AssertionError();
                });
            }
            assertThat(one.memory()).as(name).isLessThan(10_000);
            assertThat(list(one.finish(1)))
                    .as(name)
                    .containsExactly("a text that no other row has, number "
                            + (name.equals("max") ? 9999 : name.equals("first") ? 0 : 999));
        }
    }

    /** A figure told from what another one gathers is the figure that it would gather itself, merged and revived too. */
    @Test
    void viewsShowWhatTheyWouldGatherThemselves() throws IOException {
        int views = 0;
        for (GatherFunction one : GatherFunctions.all()) {
            for (GatherFunction other : GatherFunctions.all()) {
                for (Type type : List.of(Type.decimal(2), Type.REAL, Type.INTEGER)) {
                    if (types(one).contains(type) && types(other).contains(type)) {
                        views += viewed(bind(one, type), bind(other, type), type) ? 1 : 0;
                    }
                }
            }
        }
        assertThat(views).isGreaterThan(60);
    }

    private static boolean viewed(GatherFunction.Bound one, GatherFunction.Bound other, Type type) throws IOException {
        Accumulator own = one.maker().get();
        Accumulator[] carriers = {other.maker().get(), other.maker().get()};
        if (!own.mayView(carriers[0])) {
            return false;
        }
        Accumulator view = own.view(carriers[0]);
        SplittableRandom random = new SplittableRandom(3);
        own.grow(GROUPS);
        view.grow(GROUPS);
        carriers[1].grow(GROUPS);
        for (int batch = 0; batch < 4; batch++) {
            int rows = random.nextInt(30);
            Column[] args = {column(type, rows, random)};
            int[] groups = random.ints(rows, 0, GROUPS - 1).toArray();
            own.add(groups, args, rows, 0);
            carriers[batch % 2].add(groups, args, rows, 0);
        }
        int[] same = {0, 1, 2, 3, 4};
        carriers[0].merge(carriers[1], same);
        view.merge(own.view(carriers[1]), same);
        assertThat(view.isView()).isTrue();
        assertThat(view.memory()).isZero();
        assertThat(list(view.finish(GROUPS))).isEqualTo(list(own.finish(GROUPS)));
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        view.write(0, new DataOutputStream(bytes));
        assertThat(bytes.size()).as("what the other writes is enough").isZero();
        return true;
    }

    private static int arity(GatherFunction function) {
        return switch (function.name()) {
            case "at_max", "at_min", "correlation", "weighted_mean" -> 2;
            default -> 1;
        };
    }

    private static void copy(Accumulator from, Accumulator to, int group) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        from.write(group, new DataOutputStream(bytes));
        DataInputStream in = new DataInputStream(new ByteArrayInputStream(bytes.toByteArray()));
        to.read(group, in);
        assertThat(in.available()).isZero();
    }

    private static List<Object> list(Column column) {
        List<Object> list = new ArrayList<>();
        for (int i = 0; i < column.size(); i++) {
            list.add(column.get(i));
        }
        return list;
    }

    @Test
    void sumsOfNumbersDoNotDependOnTheirOrderNorOnTheirSizes() {
        double[] values = {1e308, 1, -1e308, 1e-300, 3e-324, 0.1, -0.1, 1e16, 1, -1e16};
        SplittableRandom random = new SplittableRandom(5);
        for (int turn = 0; turn < 200; turn++) {
            for (int i = values.length - 1; i > 0; i--) {
                int k = random.nextInt(i + 1);
                double swap = values[i];
                values[i] = values[k];
                values[k] = swap;
            }
            WideSums sums = new WideSums(6);
            sums.grow(1);
            BigDecimal exact = BigDecimal.ZERO;
            for (double value : values) {
                sums.add(0, value, false);
                exact = exact.add(new BigDecimal(value));
            }
            double sum = dev.fiesta.value.Exact.scaled(sums.exact(0), WideSums.LEAST_EXPONENT);
            assertThat(sum).isEqualTo(exact.doubleValue());
        }
    }

    @Test
    void whatIsTakenAwayLeavesNoTrace() {
        SplittableRandom random = new SplittableRandom(9);
        WideSums sums = new WideSums(10);
        sums.grow(1);
        for (int i = 0; i < 1000; i++) {
            double x = random.nextDouble() * Math.pow(2, random.nextInt(-500, 500));
            double y = random.nextDouble();
            sums.addProduct(0, x, y, false);
            sums.addProduct(0, x, -y, false);
            sums.addProduct(0, i * 1_000_003L, -7_777_777_777_777L, false);
            sums.addProduct(0, i * 1_000_003L, -7_777_777_777_777L, true);
        }
        assertThat(sums.exact(0).signum()).isZero();
    }

    @Test
    void sumsThatLeaveSixtyFourBitsComeBack() {
        LongSums sums = new LongSums();
        sums.grow(1);
        java.math.BigInteger exact = java.math.BigInteger.ZERO;
        for (long value :
                new long[] {Long.MAX_VALUE, Long.MAX_VALUE, 5, Long.MIN_VALUE, -3, Long.MIN_VALUE, Long.MIN_VALUE}) {
            sums.addOne(0, value);
            exact = exact.add(java.math.BigInteger.valueOf(value));
            assertThat(sums.exact(0)).isEqualTo(exact);
        }
    }
}
