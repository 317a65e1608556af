package dev.fiesta;

import dev.fiesta.compute.Types;
import dev.fiesta.plan.Parameters;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.JavaValues;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Values that a program hands over for the parameters of a text. */
final class Given {
    private Given() {}

    /** @throws RequestException when there is none */
    static <T> T needed(@Nullable T value, String what) {
        if (value == null) {
            throw new RequestException(what + " is needed, not null");
        }
        return value;
    }

    /** @throws RequestException when a value is of a class that no type holds */
    static Map<String, Parameters.Value> values(@Nullable Map<String, ?> values) {
        Map<String, Parameters.Value> all = new LinkedHashMap<>();
        needed(values, "a map of values").forEach((name, value) -> all.put(name, value(name, value)));
        return all;
    }

    static Parameters.Value value(String name, @Nullable Object value) {
        List<@Nullable Object> items = JavaValues.items(value);
        try {
            return items == null ? single(JavaValues.held(value)) : list(items);
        } catch (IllegalArgumentException e) {
            throw new RequestException("the parameter '" + name + "' " + e.getMessage(), e);
        }
    }

    private static Parameters.Value single(@Nullable Object held) {
        return held == null
                ? new Parameters.Value(Type.EMPTY, false, null)
                : new Parameters.Value(JavaValues.typeOf(held), false, List.of(held));
    }

    private static Parameters.Value list(List<@Nullable Object> items) {
        Type type = Type.EMPTY;
        List<Object> held = new ArrayList<>();
        for (Object item : items) {
            Object one = JavaValues.held(item);
            if (one == null) {
                throw new IllegalArgumentException(
                        "is a list that holds null; ask for what is missing by 'is missing'");
            }
            Type common = Types.common(type, JavaValues.typeOf(one));
            if (common == null) {
                throw new IllegalArgumentException("is a list that holds " + type.withArticle() + " and "
                        + JavaValues.typeOf(one).withArticle() + "; all are of one type");
            }
            type = common;
            held.add(one);
        }
        List<Object> fitted = new ArrayList<>();
        for (Object one : held) {
            Object as = JavaValues.fitted(type, one);
            if (as == null) {
                throw new IllegalArgumentException(
                        "is a list whose values together have more than " + Type.MOST_DIGITS + " digits: " + one);
            }
            fitted.add(as);
        }
        return new Parameters.Value(type, true, List.copyOf(fitted));
    }
}
