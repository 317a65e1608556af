package dev.fiesta.editing;

import dev.fiesta.survey.FieldSurvey;
import dev.fiesta.survey.Survey;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What is known of an input without working anything out.
 *
 * @param schema its fields
 * @param looked what its first records hold, or null when nobody has looked
 */
public record KnownInput(Schema schema, @Nullable Survey looked) {
    /** {@return as a survey of some records found it} */
    public static KnownInput of(Survey survey) {
        return new KnownInput(
                new Schema(survey.fields().stream()
                        .map(f -> new Field(f.name(), f.type()))
                        .toList()),
                survey);
    }

    /** The same with another name for a field. */
    KnownInput with(String field, String name) {
        return new KnownInput(
                new Schema(schema.fields().stream()
                        .map(f -> f.name().equals(field) ? new Field(name, f.type()) : f)
                        .toList()),
                looked);
    }

    /** {@return what is known of a field, or null} */
    @Nullable
    FieldSurvey field(String name) {
        return looked == null
                ? null
                : looked.fields().stream()
                        .filter(f -> f.name().equals(name))
                        .findFirst()
                        .orElse(null);
    }

    /** {@return the most frequent texts of a field} */
    List<String> texts(String name) {
        FieldSurvey field = field(name);
        return field == null
                ? List.of()
                : field.frequent().stream()
                        .filter(f -> f.value() instanceof String)
                        .map(f -> (String) f.value())
                        .toList();
    }
}
