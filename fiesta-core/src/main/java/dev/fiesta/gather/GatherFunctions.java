package dev.fiesta.gather;

import dev.fiesta.compute.Arguments;
import dev.fiesta.compute.Types;
import dev.fiesta.value.Column;
import dev.fiesta.value.Kind;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** All gathering functions by name. Each stands in the file of the accumulator that gathers it. */
public final class GatherFunctions {
    private static final Map<String, GatherFunction> ALL = new LinkedHashMap<>();

    static {
        Stream.of(
                        Counts.functions(),
                        MomentFunctions.functions(),
                        OfSorted.functions(),
                        Extremes.functions(),
                        Range.functions(),
                        Distinct.functions(),
                        Mode.functions(),
                        Listed.functions(),
                        Pairs.functions(),
                        GeometricMean.functions(),
                        Truths.functions())
                .flatMap(List::stream)
                .forEach(function -> ALL.put(function.name(), function));
    }

    private GatherFunctions() {}

    /** The functions, in the order of the reference. */
    public static List<GatherFunction> all() {
        return List.copyOf(ALL.values());
    }

    /** A function, or null. */
    public static @Nullable GatherFunction find(String name) {
        return ALL.get(name);
    }

    /** The type of the only argument. */
    static Type one(Arguments args, String usage) {
        args.expectCount(1, 1, usage);
        return args.type(0);
    }

    /** Takes a condition as the only argument. */
    static void truth(Arguments args, String usage) {
        args.expectCount(1, 1, usage);
        args.expectKind(0, "a condition is needed", Kind.TRUTH);
    }

    /** The values of a condition; a field of which nothing is known is missing everywhere. */
    static TruthColumn truths(Column condition) {
        return (TruthColumn) Types.widen(condition, Type.TRUTH).flat();
    }

    /** The type of the first argument, a number; {@code usage} begins with the name. */
    static Type numeric(Arguments args, String usage) {
        args.expectNumeric(0, "'" + usage.substring(0, usage.indexOf('(')) + "' needs numbers");
        return args.type(0).kind() == Kind.EMPTY ? Type.INTEGER : args.type(0);
    }
}
