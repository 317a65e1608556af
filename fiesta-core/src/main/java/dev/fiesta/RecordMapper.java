package dev.fiesta;

import dev.fiesta.problem.RequestException;
import dev.fiesta.source.RecordFields;
import dev.fiesta.value.Cells;
import dev.fiesta.value.JavaValues;
import java.lang.reflect.Constructor;
import java.lang.reflect.InaccessibleObjectException;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.RecordComponent;
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
        if (!type.isRecord()) {
            throw new RequestException(type.getName() + " is no record class, so its fields have no names");
        }
        this.components = type.getRecordComponents();
    }

    List<T> list() {
        Cells[] columns =
                Arrays.stream(components).map(c -> result.column(c.getName())).toArray(Cells[]::new);
        Constructor<T> constructor = constructor();
        List<T> list = new ArrayList<>(result.rows());
        for (int row = 0; row < result.rows(); row++) {
            @Nullable Object[] values = new Object[columns.length];
            for (int i = 0; i < values.length; i++) {
                values[i] = fitted(columns[i].get(row), components[i]);
            }
            list.add(made(constructor, values, row));
        }
        return list;
    }

    private Constructor<T> constructor() {
        try {
            Class<?>[] types =
                    Arrays.stream(components).map(RecordComponent::getType).toArray(Class<?>[]::new);
            Constructor<T> constructor = type.getDeclaredConstructor(types);
            constructor.setAccessible(true);
            return constructor;
        } catch (InaccessibleObjectException | SecurityException e) {
            throw new RequestException(RecordFields.notOpen(type), e);
        } catch (NoSuchMethodException e) {
            throw new RequestException(type.getName() + " cannot be made: it has no constructor of its components", e);
        }
    }

    private T made(Constructor<T> constructor, @Nullable Object[] values, int row) {
        try {
            return constructor.newInstance(values);
        } catch (InvocationTargetException e) {
            throw new RequestException(type.getName() + " refuses row " + row + ": " + e.getCause(), e.getCause());
        } catch (ReflectiveOperationException e) {
            throw new RequestException(type.getName() + " cannot be made: " + e.getMessage(), e);
        }
    }

    private static @Nullable Object fitted(@Nullable Object value, RecordComponent component) {
        try {
            return JavaValues.as(component.getType(), value);
        } catch (IllegalArgumentException e) {
            throw new RequestException("'" + component.getName() + "' " + e.getMessage(), e);
        }
    }
}
