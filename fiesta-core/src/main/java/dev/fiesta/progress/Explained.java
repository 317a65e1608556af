package dev.fiesta.progress;

import dev.fiesta.value.Field;
import java.util.List;

/**
 * What a run would do, without doing it.
 *
 * @param inputs what would be read
 * @param tables what would be worked out, in that order
 */
public record Explained(List<Input> inputs, List<Table> tables) {
    /**
     * An input.
     *
     * @param read the fields that somebody needs
     * @param unread the names of those that nobody does
     * @param times how often it is read
     * @param counted whether a table wants only the first of its records, so that it is read in order until there are enough
     */
    public record Input(String name, List<Field> read, List<String> unread, int times, boolean counted) {}

    /**
     * A table.
     *
     * @param kept whether all its rows are held for others or for the report; otherwise they pass through
     * @param clauses its clauses and what became of them
     */
    public record Table(String name, String from, boolean kept, List<Clause> clauses) {}

    /**
     * A clause.
     *
     * @param steps how it is done, in order; empty where it only says what is shown
     */
    public record Clause(String text, int line, List<String> steps) {}
}
