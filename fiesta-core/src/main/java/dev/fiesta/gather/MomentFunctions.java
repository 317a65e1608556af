package dev.fiesta.gather;

import dev.fiesta.gather.frames.Far;
import dev.fiesta.gather.frames.Frames;
import dev.fiesta.gather.frames.Sliding;
import dev.fiesta.gather.frames.SlidingSums;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The functions whose figures come of {@link Moments}, and how they move along. */
final class MomentFunctions {
    private MomentFunctions() {}

    static List<GatherFunction> functions() {
        return List.of(
                function("sum", "The sum.", "100.00", Moments.Result.SUM)
                        .addingUp()
                        .additive("count"),
                function("mean", "The arithmetic mean.", "25", Moments.Result.MEAN)
                        .ratioOf("sum", "count"),
                function(
                        "stddev",
                        "The standard deviation of a sample; missing for one value.",
                        "17.320508075688775",
                        Moments.Result.STDDEV),
                function(
                        "variance", "The variance of a sample; missing for one value.", "300", Moments.Result.VARIANCE),
                function(
                        "stddev_pop", "The standard deviation of a whole population.", "15", Moments.Result.STDDEV_POP),
                function("variance_pop", "The variance of a whole population.", "225", Moments.Result.VARIANCE_POP),
                GatherFunction.of(
                                "share",
                                "share(x)",
                                "The part of the sum of the wider group that 'within' names, or of all.",
                                "share(takings)",
                                "1",
                                args -> {
                                    args.expectCount(1, 1, "share(x)");
                                    Type type = GatherFunctions.numeric(args, "share(x)");
                                    return new GatherFunction.Bound(
                                                    Type.REAL, () -> new Moments(Moments.Result.SUM, type))
                                            .carryingOn((frames, values, before) ->
                                                    Sliding.over(frames, values, parts(type, (Moments) before)))
                                            .far(Far.of(() -> parts(type, null)));
                                })
                        .asPart());
    }

    private static GatherFunction function(String name, String about, String result, Moments.Result wanted) {
        String usage = name + "(x)";
        return GatherFunction.of(name, usage, about, name + "(takings)", result, args -> {
            args.expectCount(1, 1, usage);
            Type type = GatherFunctions.numeric(args, usage);
            Type figure = wanted == Moments.Result.SUM && type.isExact() ? type : Type.REAL;
            return new GatherFunction.Bound(figure, () -> new Moments(wanted, type))
                    .carryingOn((frames, values, before) -> moving(wanted, type, frames, values[0], (Moments) before))
                    .far(Far.of(() -> new SlidingMoments(wanted, type, false, null)));
        });
    }

    /** The part that the value of each row has in the sum of its frame. */
    private static Sliding parts(Type type, @Nullable Moments before) {
        return new SlidingMoments(Moments.Result.SUM, type, true, before);
    }

    /** What enters the frame is taken in, what leaves it is taken away, both exactly. */
    private static Column moving(Moments.Result wanted, Type type, Frames frames, Column x, @Nullable Moments before) {
        if (before == null
                && wanted.ordinal() <= Moments.Result.MEAN.ordinal()
                && frames.arePlain()
                && x instanceof LongColumn exact) {
            SlidingSums sums = new SlidingSums(exact, frames, wanted == Moments.Result.MEAN);
            if (frames.eachPartition(sums::add)) {
                return sums.column();
            }
        }
        return Sliding.over(frames, new Column[] {x}, new SlidingMoments(wanted, type, false, before));
    }
}
