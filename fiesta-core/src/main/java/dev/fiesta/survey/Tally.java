package dev.fiesta.survey;

import dev.fiesta.value.Column;

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

    FieldSurvey finish(String name, long records, long bad);
}
