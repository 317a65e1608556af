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
 * @param unreadable how many lines are no records that can be read; they are in nothing else here
 */
public record Survey(long records, List<FieldSurvey> fields, List<String> remarks, int unreadable) {
    public Survey {
        fields = List.copyOf(fields);
        remarks = List.copyOf(remarks);
    }
}
