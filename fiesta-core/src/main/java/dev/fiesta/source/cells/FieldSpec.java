package dev.fiesta.source.cells;

import dev.fiesta.value.Field;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * A field as it is read.
 *
 * @param name its name
 * @param column the name of its column in the files
 * @param type its type
 * @param declared whether the type was told rather than worked out; it then never widens
 * @param openScale whether a decimal takes the scale of its data
 * @param pattern of dates, or null
 * @param rules what else is told of its cells
 * @param byDefault the value of empty cells, of the class that columns of the type hold, or null
 */
public record FieldSpec(
        String name,
        String column,
        Type type,
        boolean declared,
        boolean openScale,
        @Nullable String pattern,
        @Nullable Object byDefault,
        boolean badAsMissing,
        CellRules rules) {

    /** Some fields, of which those that are not used are missing where they cannot be read: nobody judges records by them. */
    public static List<FieldSpec> judged(List<FieldSpec> fields, BitSet used) {
        return IntStream.range(0, fields.size())
                .mapToObj(f -> used.get(f) ? fields.get(f) : fields.get(f).lenient())
                .toList();
    }

    /** How many of some fields hold texts. */
    public static int texts(List<FieldSpec> fields) {
        return (int) fields.stream().filter(f -> f.type().kind() == Kind.TEXT).count();
    }

    /** A field that nothing was told of. */
    public static FieldSpec undeclared(String column) {
        return new FieldSpec(column, column, Type.EMPTY, false, false, null, null, false, CellRules.NONE);
    }

    /** A field whose values tell their type themselves. */
    public static FieldSpec typed(String column, Type type) {
        return new FieldSpec(column, column, type, true, false, null, null, false, CellRules.NONE);
    }

    public static Schema schema(List<FieldSpec> fields) {
        return new Schema(
                fields.stream().map(f -> new Field(f.name(), f.type())).toList());
    }

    /** Whether its type, or its scale, is to be worked out from the data. */
    public boolean isOpen() {
        return !declared || openScale;
    }

    /** A field whose bad values are missing; one whose type was worked out still widens. */
    public FieldSpec lenient() {
        return new FieldSpec(name, column, type, declared, openScale, pattern, byDefault, true, rules);
    }

    /** The same with a type that was worked out. */
    public FieldSpec as(Type wider) {
        return new FieldSpec(name, column, wider, declared, false, pattern, byDefault, badAsMissing, rules);
    }
}
