package dev.fiesta.survey;

import dev.fiesta.value.Column;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;

/** What one worker has seen of one field. */
interface Tally {
    /**
     * Takes rows in.
     *
     * @param drawn the rows that belong to the sample
     */
    void add(Column column, int[] drawn, int count);

    /** Keeps only these of the rows drawn so far. */
    void thin(int[] stay);

    /** Takes in what another worker has seen, whose sample is as thin as this one's. */
    void merge(Tally other);

    /** One of the same field that has seen nothing. */
    Tally empty();

    /** Writes what was seen. */
    void write(DataOutput out) throws IOException;

    /** Begins with what another one wrote, of a field of the same type. */
    void read(DataInput in) throws IOException;

    FieldSurvey finish(String name, long records, long bad);
}
