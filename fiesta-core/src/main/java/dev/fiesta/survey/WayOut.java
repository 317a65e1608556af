package dev.fiesta.survey;

import dev.fiesta.language.Expr;
import dev.fiesta.language.Printer;
import dev.fiesta.language.Span;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** What a brief can say of something odd in a field. */
public sealed interface WayOut {
    /** {@return it as a brief has it: options of an input, or a clause} */
    String text();

    /**
     * The field is declared in its input.
     *
     * @param field its name
     * @param type its type; of a decimal with {@code openScale} the digits are worked out
     * @param openScale whether no digits are told
     * @param pattern of dates and times, or null
     * @param language whose names of months its values have, which a brief must say; or null
     * @param without what is taken out of its values before they are read
     * @param badAsMissing whether values that are none become missing; they are there where not all values fit
     * @param input options of the input that it needs besides
     */
    record Declared(
            String field,
            Type type,
            boolean openScale,
            @Nullable String pattern,
            @Nullable String language,
            List<String> without,
            boolean badAsMissing,
            List<Option> input)
            implements WayOut {
        public Declared {
            without = List.copyOf(without);
            input = List.copyOf(input);
        }

        static Declared of(String field, Type type, boolean openScale) {
            return new Declared(field, type, openScale, null, null, List.of(), false, List.of());
        }

        Declared written(String as, @Nullable String names) {
            return new Declared(field, type, openScale, as, names, without, badAsMissing, input);
        }

        Declared without(List<String> units, List<Option> options) {
            return new Declared(field, type, openScale, pattern, language, units, badAsMissing, options);
        }

        Declared orMissing() {
            return new Declared(field, type, openScale, pattern, language, without, true, input);
        }

        /** {@return what stands behind the name of the field: {@code date 'dd.MM.yyyy' bad as missing}} */
        public String form() {
            return (openScale ? "decimal" : type.toString())
                    + (pattern == null ? "" : " " + Printer.text(pattern))
                    + (without.isEmpty() ? "" : " without " + quoted(without))
                    + (badAsMissing ? " bad as missing" : "");
        }

        @Override
        public String text() {
            return "fields " + Printer.name(field) + " " + form()
                    + input.stream().map(o -> " " + o.text()).collect(Collectors.joining());
        }
    }

    /** An option of the input, which holds for all its fields. */
    enum Option implements WayOut {
        /** Numbers have a comma where others have a point. */
        DECIMAL_COMMA("decimal comma"),
        /** Numbers in brackets are negative. */
        BRACKETS_NEGATIVE("brackets negative");

        private final String text;

        Option(String text) {
            this.text = text;
        }

        @Override
        public String text() {
            return text;
        }
    }

    /**
     * Texts that stand for missing values.
     *
     * @param words these texts
     */
    record Missing(List<String> words) implements WayOut {
        public Missing {
            words = List.copyOf(words);
        }

        @Override
        public String text() {
            return "missing " + quoted(words);
        }
    }

    /**
     * The field is made anew of what stands in it.
     *
     * @param field its name
     * @param value what it becomes
     */
    record Computed(String field, Expr value) implements WayOut {
        /** A call of functions over the field. */
        static Computed of(String field, String function, Object... further) {
            return new Computed(field, call(function, name(field), further));
        }

        @Override
        public String text() {
            return "add " + Printer.name(field) + " = " + Printer.print(value);
        }
    }

    /**
     * The values of the field are held to be different.
     *
     * @param field its name
     */
    record Unique(String field) implements WayOut {
        @Override
        public String text() {
            return "check unique " + Printer.name(field);
        }
    }

    private static String quoted(List<String> texts) {
        return texts.stream().map(Printer::text).collect(Collectors.joining(", "));
    }

    /** The field itself in an expression. */
    static Expr name(String field) {
        return new Expr.Name(field, new Span(0, 0));
    }

    /** A value in an expression. */
    static Expr literal(Object value) {
        Type type = value instanceof String ? Type.TEXT : Type.INTEGER;
        return new Expr.Literal(type, value, new Span(0, 0));
    }

    /** A call; what is no expression yet is a value written out. */
    static Expr call(String function, Expr first, Object... further) {
        List<Expr> args = new ArrayList<>(List.of(first));
        Arrays.stream(further)
                .map(f -> f instanceof Expr expr ? expr : literal(f))
                .forEach(args::add);
        return new Expr.Call(function, args, Expr.Modifiers.NONE, new Span(0, 0), new Span(0, 0));
    }
}
