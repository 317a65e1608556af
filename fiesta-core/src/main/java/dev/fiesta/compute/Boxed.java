package dev.fiesta.compute;

import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Functions over objects, for what is rare or works on texts. When one text varies and all else is constant, the function is
 * worked out once for each different text, and rows only look the answer up.
 */
final class Boxed implements RowFunction.Body {
    /** The function for one row; no argument is null. */
    @FunctionalInterface
    interface Function {
        @Nullable
        Object of(Object[] args);
    }

    private final Type type;
    private final Function function;
    private @Nullable Dictionary known;
    private @Nullable Object[] answers = new Object[0];
    private boolean[] answered = new boolean[0];

    Boxed(Type type, Function function) {
        this.type = type;
        this.function = function;
    }

    /** A call that cannot fail. */
    static RowFunction.Bound safe(Type type, Function function) {
        return new RowFunction.Bound(type, false, notices -> new Boxed(type, function));
    }

    /** A call that may throw a {@link Fault} for a value. */
    static RowFunction.Bound fallible(Type type, Function function) {
        return new RowFunction.Bound(type, true, notices -> new Boxed(type, function));
    }

    @Override
    public Column apply(Column[] args, int rows) {
        int varying = -1;
        for (int i = 0; i < args.length; i++) {
            if (!args[i].isConstant()) {
                varying = varying < 0 ? i : args.length;
            }
        }
        boolean one = varying >= 0 && varying < args.length && args[varying] instanceof TextColumn;
        List<@Nullable Object> values = one ? byText(args, varying, rows) : byRow(args, rows);
        return Column.of(type, values);
    }

    private List<@Nullable Object> byRow(Column[] args, int rows) {
        List<@Nullable Object> values = new ArrayList<>(rows);
        for (int row = 0; row < rows; row++) {
            values.add(call(args, row));
        }
        return values;
    }

    private List<@Nullable Object> byText(Column[] args, int varying, int rows) {
        TextColumn texts = (TextColumn) args[varying];
        if (known != texts.dictionary()) {
            known = texts.dictionary();
            answers = new Object[0];
            answered = new boolean[0];
        }
        if (answers.length < texts.dictionary().size()) {
            answers = Arrays.copyOf(answers, texts.dictionary().size());
            answered = Arrays.copyOf(answered, answers.length);
        }
        List<@Nullable Object> values = new ArrayList<>(rows);
        for (int row = 0; row < rows; row++) {
            int code = texts.codes()[row];
            if (code >= 0 && !answered[code]) {
                answers[code] = call(args, row);
                answered[code] = true;
            }
            values.add(code < 0 ? null : answers[code]);
        }
        return values;
    }

    private @Nullable Object call(Column[] args, int row) {
        Object[] values = new Object[args.length];
        for (int i = 0; i < values.length; i++) {
            Object value = args[i].get(row);
            if (value == null) {
                return null;
            }
            values[i] = value;
        }
        try {
            return function.of(values);
        } catch (Fault fault) {
            throw fault.at(row);
        }
    }
}
