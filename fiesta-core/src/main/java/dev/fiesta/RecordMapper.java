package dev.fiesta;

import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Column;
import java.lang.reflect.Constructor;
import java.lang.reflect.InaccessibleObjectException;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.RecordComponent;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Fills Java records from rows. */
final class RecordMapper<T extends Record> {
    private final Class<T> type;
    private final Result result;
    private final RecordComponent[] components;

    RecordMapper(Class<T> type, Result result) {
        this.type = type;
        this.result = result;
        this.components = type.getRecordComponents();
    }

    List<T> list() {
        Column[] columns =
                Arrays.stream(components).map(c -> result.column(c.getName())).toArray(Column[]::new);
        try {
            Class<?>[] types =
                    Arrays.stream(components).map(RecordComponent::getType).toArray(Class<?>[]::new);
            Constructor<T> constructor = type.getDeclaredConstructor(types);
            constructor.setAccessible(true);
            List<T> list = new ArrayList<>(result.rows());
            for (int row = 0; row < result.rows(); row++) {
                @Nullable Object[] values = new Object[columns.length];
                for (int i = 0; i < values.length; i++) {
                    values[i] = fitted(columns[i].get(row), components[i]);
                }
                list.add(constructor.newInstance(values));
            }
            return list;
        } catch (InvocationTargetException e) {
            throw new RequestException(
                    type.getName() + " refuses a row: " + e.getCause().getMessage(), e.getCause());
        } catch (ReflectiveOperationException | InaccessibleObjectException e) {
            throw new RequestException(type.getName() + " cannot be made: " + e.getMessage(), e);
        }
    }

    private static @Nullable Object fitted(@Nullable Object value, RecordComponent component) {
        Class<?> wanted = component.getType();
        if (value == null) {
            if (wanted.isPrimitive()) {
                throw new RequestException("'" + component.getName() + "' is missing in a row, but " + wanted
                        + " cannot be; use its boxed type");
            }
            return null;
        }
        if (value instanceof Number number) {
            if ((wanted == int.class || wanted == Integer.class) && value instanceof Long n) {
                if (n != n.intValue()) {
                    throw new RequestException(
                            "'" + component.getName() + "' is " + n + " in a row, which no int holds; use long");
                }
                return n.intValue();
            }
            if (wanted == double.class || wanted == Double.class) {
                return number.doubleValue();
            }
            if (wanted == BigDecimal.class && value instanceof Long n) {
                return BigDecimal.valueOf(n);
            }
        }
        boolean fits = wanted.isInstance(value)
                || (wanted == long.class && value instanceof Long)
                || (wanted == boolean.class && value instanceof Boolean);
        if (!fits) {
            throw new RequestException("'" + component.getName() + "' is "
                    + value.getClass().getName() + " in the table, but " + wanted.getName() + " in the record");
        }
        return value;
    }
}
