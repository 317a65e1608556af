package dev.fiesta.survey;

import java.util.List;

/**
 * What an input holds, field by field.
 *
 * <pre>{@code
 * Survey survey = fiesta.read(Path.of("sales.csv")).survey();
 * }</pre>
 *
 * @param records the number of records
 * @param remarks what was guessed or counted while reading, a sentence each
 */
public record Survey(long records, List<FieldSurvey> fields, List<String> remarks) {
    public Survey {
        fields = List.copyOf(fields);
        remarks = List.copyOf(remarks);
    }
}
