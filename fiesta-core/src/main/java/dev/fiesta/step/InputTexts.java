package dev.fiesta.step;

import java.util.List;
import java.util.Map;

/**
 * What a table has to do with the texts of inputs, as they are read.
 *
 * @param fields the visible fields, by place, that are a text field of an input, unchanged
 * @param compared the texts that clauses compare such fields with
 * @param samples of an input: some of its texts
 */
public record InputTexts(Map<Integer, InputField> fields, List<Compared> compared, Samples samples) {
    /** Some values of an input's fields, for whoever explains a mistake; asked for only then. */
    @FunctionalInterface
    public interface Samples {
        /** Some texts of a field, or none where they cannot be had. */
        List<String> of(int place);
    }

    public InputTexts(Map<Integer, InputField> fields, List<Compared> compared) {
        this(fields, compared, place -> List.of());
    }

    /**
     * A text field of an input.
     *
     * @param place its place among the fields
     */
    public record InputField(TablePlan input, int place) {}

    /**
     * A text that is compared with a field: where no record has it, somebody has mistyped it.
     *
     * @param name the field, as the brief calls it there
     * @param so what follows when no record has it, to be said behind that; or nothing
     * @param at where the comparison stands
     */
    public record Compared(InputField field, String name, String text, String so, String at) {}
}
