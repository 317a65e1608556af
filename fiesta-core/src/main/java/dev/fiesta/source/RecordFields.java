package dev.fiesta.source;

import dev.fiesta.problem.RequestException;
import dev.fiesta.value.JavaValues;
import dev.fiesta.value.Type;
import java.lang.reflect.InaccessibleObjectException;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.RecordComponent;
import java.math.BigDecimal;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** The components of a Java record class as fields. */
public final class RecordFields {
    private final Class<?> type;
    private final RecordComponent[] components;
    private final Method[] accessors;

    /** @throws RequestException when it is no record class, or its components cannot be read */
    RecordFields(Class<?> type) {
        this.type = type;
        if (!type.isRecord()) {
            throw new RequestException(type.getName() + " is no record class, so its fields have no names");
        }
        this.components = type.getRecordComponents();
        this.accessors = Arrays.stream(components).map(this::accessor).toArray(Method[]::new);
        for (RecordComponent component : components) {
            if (!isOptional(component) && JavaValues.type(component.getType()) == null) {
                throw new RequestException("'" + component.getName() + "' is "
                        + component.getType().getName() + "; records hold " + JavaValues.classes());
            }
        }
    }

    private Method accessor(RecordComponent component) {
        try {
            Method accessor = component.getAccessor();
            accessor.setAccessible(true);
            return accessor;
        } catch (InaccessibleObjectException | SecurityException e) {
            throw new RequestException(notOpen(type), e);
        }
    }

    /** What is told of a class whose package is not open to us. */
    public static String notOpen(Class<?> type) {
        return type.getName() + " cannot be used: its package is not open. Write in the module-info of its module:"
                + " opens " + type.getPackageName() + " to dev.fiesta;";
    }

    private static boolean isOptional(RecordComponent component) {
        return component.getType().getName().startsWith("java.util.Optional");
    }

    /** Whether a field is a decimal whose scale its values tell. */
    boolean isDecimal(int field) {
        return components[field].getType() == BigDecimal.class;
    }

    int count() {
        return components.length;
    }

    String name(int field) {
        return components[field].getName();
    }

    /** The type of a field as its class tells it; null where only values can: what an {@code Optional} holds, the scale of a {@code BigDecimal}. */
    @Nullable
    Type type(int field) {
        Class<?> held = components[field].getType();
        return isOptional(components[field]) || isDecimal(field) ? null : JavaValues.type(held);
    }

    /** The type of a field by its values, the widest decimal of them. */
    Type type(int field, List<@Nullable Object> values) {
        Type told = type(field);
        if (told != null) {
            return told;
        }
        Type type = isDecimal(field) ? Type.decimal(0) : Type.EMPTY;
        for (Object value : values) {
            if (value != null) {
                Type own = JavaValues.typeOf(value);
                if (type.kind() != own.kind() && type != Type.EMPTY) {
                    throw new RequestException(
                            "'" + name(field) + "' holds " + type.withArticle() + " and " + own.withArticle());
                }
                type = own.scale() > type.scale() || type == Type.EMPTY ? own : type;
            }
        }
        return type;
    }

    /**
     * The value of a field.
     *
     * @param place of the record among all, from 0, for messages
     * @return null when missing
     */
    @Nullable
    Object value(@Nullable Object row, long place, int field) {
        if (!type.isInstance(row)) {
            throw new RequestException("the record at place " + place + " is "
                    + (row == null ? "null" : row.getClass().getName()) + ", not " + type.getName());
        }
        try {
            return JavaValues.held(accessors[field].invoke(row));
        } catch (IllegalArgumentException e) {
            throw new RequestException(
                    "'" + name(field) + "' of the record at place " + place + " " + e.getMessage(), e);
        } catch (IllegalAccessException | InvocationTargetException e) {
            Throwable cause = Optional.ofNullable(e.getCause()).orElse(e);
            throw new RequestException(
                    "'" + name(field) + "' of the record at place " + place + " cannot be read: " + cause, cause);
        }
    }
}
