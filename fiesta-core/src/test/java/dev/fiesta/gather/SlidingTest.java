package dev.fiesta.gather;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.compute.Arguments;
import dev.fiesta.compute.CalendarSettings;
import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Misuse;
import dev.fiesta.gather.frames.Far;
import dev.fiesta.gather.frames.Sliding;
import dev.fiesta.gather.values.Drawer;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.SplittableRandom;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** A figure that is told what comes and what goes, from columns that change on the way, is the one gathered from the rows inside. */
class SlidingTest {
    private static final int ROWS = 90;
    private static final int BLOCK = 13;
    private static final List<Type> TYPES =
            List.of(Type.INTEGER, Type.decimal(2), Type.REAL, Type.TEXT, Type.DATE, Type.TRUTH);

    /** Those told of every row; what needs ranks is tried over whole files. */
    static Stream<GatherFunction> sliding() {
        return GatherFunctions.all().stream()
                .filter(f -> !f.isPart()
                        && TYPES.stream()
                                .map(t -> bind(f, t))
                                .anyMatch(b ->
                                        b != null && b.far() != null && b.far().told() == Far.Told.ROWS));
    }

    private static GatherFunction.@Nullable Bound bind(GatherFunction function, Type type) {
        String usage = function.entry().usage();
        List<Expression> args = new ArrayList<>(List.of(new FieldRef(0, type)));
        if (usage.contains(", p)")) {
            args.add(new Constant(Type.decimal(2), new BigDecimal("0.15")));
        } else if (usage.contains(", y)") || usage.contains(", w)") || usage.contains(", by)")) {
            args.add(new FieldRef(1, Type.INTEGER));
        }
        try {
            return function.rule().bind(new Arguments(args, CalendarSettings.NORMAL));
        } catch (Misuse misuse) {
            return null;
        }
    }

    private static Column column(Type type, SplittableRandom random) {
        List<@Nullable Object> values = new ArrayList<>();
        for (int i = 0; i < ROWS; i++) {
            int n = random.nextInt(9);
            values.add(
                    n == 0
                            ? null
                            : switch (type.kind()) {
                                case INTEGER -> (Object) (n - 2L);
                                case DECIMAL -> BigDecimal.valueOf(n * 377L - 900, 2);
                                case REAL -> (n - 2) * Math.pow(2, random.nextInt(-40, 40));
                                case TEXT -> "item " + n;
                                case DATE -> LocalDate.of(2026, 5, n);
                                default -> n > 4;
                            });
        }
        return Column.of(type, values);
    }

    /** The arguments in the block that a row stands in, in columns of their own. */
    private static Column[] block(Column[] args, int row) {
        int[] rows = IntStream.range(row / BLOCK * BLOCK, Math.min(ROWS, row / BLOCK * BLOCK + BLOCK))
                .toArray();
        return Arrays.stream(args).map(a -> a.take(rows, rows.length)).toArray(Column[]::new);
    }

    @ParameterizedTest
    @MethodSource
    void sliding(GatherFunction function) {
        SplittableRandom random = new SplittableRandom(function.name().hashCode());
        int asked = 0;
        for (Type type : TYPES) {
            GatherFunction.Bound bound = bind(function, type);
            if (bound == null) {
                continue;
            }
            int args = function.entry().usage().contains(",") ? 2 : 1;
            Column[] columns = Arrays.copyOf(new Column[] {column(type, random), column(Type.INTEGER, random)}, args);
            asked++;
            compare(function, bound, columns, random);
        }
        assertThat(asked).as("types that it takes").isPositive();
    }

    /** Frames that begin and end further behind from row to row, by none, one or many rows. */
    private static void compare(
            GatherFunction function, GatherFunction.Bound bound, Column[] columns, SplittableRandom random) {
        Far far = bound.far();
        assertThat(far).as(function.name()).isNotNull();
        Sliding figure = far.maker().make(null, random.nextBoolean() ? null : new InLists());
        int first = 0;
        int behind = 0;
        List<@Nullable Object> expected = new ArrayList<>();
        List<@Nullable Object> found = new ArrayList<>();
        for (int row = 0; row < ROWS; row++) {
            if (row % BLOCK == 0) {
                figure.own(block(columns, row), Math.min(BLOCK, ROWS - row));
            }
            for (int more = random.nextInt(4); more > 0 && behind < ROWS; more--) {
                if (behind % BLOCK == 0) {
                    figure.coming(block(columns, behind));
                }
                figure.come(behind++ % BLOCK);
            }
            for (int less = random.nextInt(4); less > 0 && first < behind; less--) {
                if (first % BLOCK == 0) {
                    figure.going(block(columns, first));
                }
                figure.go(first++ % BLOCK);
            }
            figure.look(row % BLOCK);
            expected.add(anew(bound, columns, first, behind));
            if (row % BLOCK == BLOCK - 1 || row == ROWS - 1) {
                Column figures = figure.figures();
                for (int i = 0; i <= row % BLOCK; i++) {
                    found.add(figures.get(i));
                }
            }
        }
        assertThat(found).as("%s of %s", function.name(), columns[0].type()).isEqualTo(expected);
    }

    private static @Nullable Object anew(GatherFunction.Bound bound, Column[] columns, int first, int behind) {
        int[] rows = IntStream.range(first, behind).toArray();
        Column[] inside =
                Arrays.stream(columns).map(c -> c.take(rows, rows.length)).toArray(Column[]::new);
        Accumulator gathered = bound.empty(1);
        gathered.add(new int[rows.length], inside, rows.length, 0);
        return gathered.finish(1).get(0);
    }

    @Test
    void whatMayWinIsKeptHoweverMuchItIs() {
        InLists drawer = new InLists();
        assertThat(greatestOfFalling(drawer)).isEqualTo(greatestOfFalling(null));
        assertThat(drawer.put).hasSizeGreaterThan(100);
    }

    private static List<@Nullable Object> greatestOfFalling(@Nullable Drawer drawer) {
        SlidingExtremes greatest = new SlidingExtremes(Extremes.By.GREATEST, Type.INTEGER, Type.INTEGER, drawer);
        int size = 1000;
        Column falling = Column.of(
                Type.INTEGER,
                IntStream.range(0, size)
                        .mapToObj(i -> (Object) (long) (size - i))
                        .toList());
        greatest.coming(new Column[] {falling});
        greatest.going(new Column[] {falling});
        greatest.own(new Column[] {falling}, size);
        for (int i = 0; i < size; i++) {
            greatest.come(i);
            if (i >= 700) {
                greatest.go(i - 700);
            }
            greatest.look(i);
        }
        Column figures = greatest.figures();
        List<@Nullable Object> found = new ArrayList<>();
        for (int i = 0; i < size; i++) {
            found.add(figures.get(i));
            assertThat(figures.get(i)).isEqualTo((long) (size - Math.max(0, i - 699)));
        }
        return found;
    }

    /** Takes very few rows at a time. */
    private static final class InLists implements Drawer {
        private final List<Column[]> put = new ArrayList<>();

        @Override
        public int rows() {
            return 3;
        }

        @Override
        public int put(Column[] columns, int rows) {
            put.add(columns);
            return put.size() - 1;
        }

        @Override
        public Column[] get(int number) {
            return put.get(number);
        }
    }
}
