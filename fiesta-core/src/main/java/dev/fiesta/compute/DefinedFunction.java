package dev.fiesta.compute;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.Entry.Family;
import dev.fiesta.value.JavaValues;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** A function that a program defines. What it throws, and what it gives that is not of its type, is a failure at the row. */
public final class DefinedFunction {
    private DefinedFunction() {}

    /** An argument; what is exact may stand for a decimal or a real. */
    public record Taken(Kind kind) {
        private Kind[] fitting() {
            return switch (kind) {
                case DECIMAL -> new Kind[] {Kind.DECIMAL, Kind.INTEGER};
                case REAL -> new Kind[] {Kind.REAL, Kind.DECIMAL, Kind.INTEGER};
                default -> new Kind[] {kind};
            };
        }

        private Object of(Object value) {
            return kind == Kind.DECIMAL && value instanceof Long n
                    ? java.math.BigDecimal.valueOf(n)
                    : kind == Kind.REAL ? (Object) ((Number) value).doubleValue() : value;
        }

        @Override
        public String toString() {
            return kind.name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * @param gives the type of its results
     * @param body is called with values that are there, of the classes that columns hold
     */
    public static RowFunction of(String name, List<Taken> takes, Type gives, Function<Object[], ?> body) {
        String usage = name + takes.stream().map(Taken::toString).collect(Collectors.joining(", ", "(", ")"));
        Entry entry = new Entry(name, Family.CONVERSIONS, usage, "A function of this program.", "", "");
        return new RowFunction(entry, args -> {
            args.expectCount(takes.size(), takes.size(), usage);
            for (int i = 0; i < takes.size(); i++) {
                args.expectKind(
                        i,
                        "'" + name + "' takes "
                                + new Type(takes.get(i).kind(), 0).withArticle().replace("(0)", ""),
                        takes.get(i).fitting());
            }
            return Boxed.fallible(gives, values -> called(name, takes, gives, body, values));
        });
    }

    private static @Nullable Object called(
            String name, List<Taken> takes, Type gives, Function<Object[], ?> body, Object[] values) {
        Object[] args = new Object[values.length];
        Arrays.setAll(args, i -> takes.get(i).of(values[i]));
        String shown = Arrays.stream(values).map(Texts::of).collect(Collectors.joining(", "));
        try {
            Object held = JavaValues.held(body.apply(args));
            Object fitted = held == null ? null : JavaValues.fitted(gives, held);
            if (held != null && fitted == null) {
                throw new Fault(
                        "'" + name + "' gave " + held + ", which is not " + gives.withArticle() + ".", shown, null);
            }
            return fitted;
        } catch (Fault e) {
            throw e;
        } catch (IllegalArgumentException e) {
            throw new Fault("'" + name + "' failed: " + e.getMessage() + ".", shown, null);
        } catch (RuntimeException e) {
            throw new Fault("'" + name + "' failed: " + e + ".", shown, null);
        }
    }
}
