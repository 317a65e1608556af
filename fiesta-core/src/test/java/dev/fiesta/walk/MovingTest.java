package dev.fiesta.walk;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.compute.Arguments;
import dev.fiesta.compute.CalendarSettings;
import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.GatherFunctions;
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
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** A figure that moves with the row is the one that is gathered from each frame anew, whatever the frame. */
class MovingTest {
    private static final int ROWS = 60;
    private static final List<Type> TYPES =
            List.of(Type.INTEGER, Type.decimal(2), Type.REAL, Type.TEXT, Type.DATE, Type.TRUTH, Type.EMPTY);
    private static final List<Frame> FRAMES = List.of(
            new Frame(Frame.START, 0, null, false, 0),
            new Frame(-2, 0, null, false, 0),
            new Frame(0, 3, null, true, 0),
            new Frame(-3, 2, null, false, 3),
            new Frame(-4, -2, null, false, 0),
            new Frame(2, 4, null, true, 2),
            new Frame(0, Frame.END, null, false, 0),
            new Frame(Frame.START, Frame.END, null, false, 0),
            new Frame(0, 0, new Frame.Span(0, 3 * 86_400_000_000L, false), false, 0),
            new Frame(0, 0, new Frame.Span(1, 0, true), true, 0));

    static Stream<GatherFunction> moving() {
        return GatherFunctions.all().stream().filter(f -> !f.isPart());
    }

    private static GatherFunction.Bound bind(GatherFunction function, Type type) {
        List<Expression> args = new ArrayList<>(List.of(new FieldRef(0, type)));
        if (function.entry().usage().contains(", p)")) {
            args.add(new Constant(Type.decimal(2), new BigDecimal("0.15")));
        } else if (isPair(function)) {
            args.add(new FieldRef(1, Type.INTEGER));
        }
        try {
            return function.rule().bind(new Arguments(args, CalendarSettings.NORMAL));
        } catch (dev.fiesta.compute.Misuse misuse) {
            return null;
        }
    }

    private static Column column(Type type, SplittableRandom random) {
        List<Object> values = new ArrayList<>();
        for (int i = 0; i < ROWS; i++) {
            int n = random.nextInt(9);
            values.add(
                    n == 0
                            ? null
                            : switch (type.kind()) {
                                case INTEGER -> n - 4L;
                                case DECIMAL -> BigDecimal.valueOf(n * 377L - 900, 2);
                                case REAL -> (n - 5) * Math.pow(2, random.nextInt(-40, 40));
                                case TEXT -> "item " + n;
                                case DATE -> LocalDate.of(2026, 5, n);
                                case TRUTH -> n > 4;
                                default -> null;
                            });
        }
        return Column.of(type, values);
    }

    private static Walk walk(SplittableRandom random) {
        int[] partition = IntStream.range(0, ROWS).map(i -> random.nextInt(4)).toArray();
        List<Object> days = new ArrayList<>();
        for (int i = 0; i < ROWS; i++) {
            days.add(random.nextInt(8) == 0 ? null : LocalDate.of(2026, 5, 1).plusDays(random.nextInt(70)));
        }
        return Walk.of(
                ROWS,
                IntStream.range(0, ROWS).toArray(),
                partition,
                4,
                List.of(new Order.Key(Column.of(Type.DATE, days), false)),
                Parts.ONE);
    }

    @ParameterizedTest
    @MethodSource
    void moving(GatherFunction function) {
        SplittableRandom random = new SplittableRandom(5);
        int asked = 0;
        for (Type type : TYPES) {
            GatherFunction.Bound bound = bind(function, type);
            for (Frame frame : bound == null ? List.<Frame>of() : FRAMES) {
                Walk walk = walk(random);
                Column[] args = {column(type, random), column(Type.INTEGER, random)};
                args = Arrays.copyOf(args, isPair(function) ? 2 : 1);
                GatherFunction.Bound anew =
                        new GatherFunction.Bound(bound.type(), bound.maker(), null, false, null, null);
                assertThat(list(new MovingFigure(bound, frame).walk(walk, args, null, 0)))
                        .as("%s of %s, %s", function.name(), type, frame)
                        .isEqualTo(list(new MovingFigure(anew, frame).walk(walk, args, null, 0)));
                asked++;
            }
        }
        boolean condition = function.entry().usage().contains("condition");
        assertThat(asked).as(function.name()).isGreaterThanOrEqualTo((condition ? 2 : 4) * FRAMES.size());
    }

    private static boolean isPair(GatherFunction function) {
        return function.entry().usage().matches(".*, (by|y|w)\\).*");
    }

    /** None gathers each frame anew, which would take years over a long partition; a list is as long as its frame. */
    @Test
    void allOfThemMove() {
        assertThat(moving().filter(f ->
                                TYPES.stream().map(t -> bind(f, t)).noneMatch(b -> b != null && b.moving() != null))
                        .map(GatherFunction::name))
                .containsExactly("list");
    }

    private static List<Object> list(Column column) {
        List<Object> values = new ArrayList<>();
        for (int i = 0; i < column.size(); i++) {
            values.add(column.get(i));
        }
        return values;
    }
}
