package dev.fiesta.problem;

import java.util.List;

/**
 * A way out: a sentence, which also knows how to change the text where that is all it takes.
 *
 * @param text the sentence; empty where what is wrong says it already
 * @param changes of the text, each a way out by itself
 */
public record Suggestion(String text, List<Change> changes) implements CharSequence {
    /**
     * Other words for a part of a text.
     *
     * @param start of what is replaced, in UTF-16 units from the beginning of the text; negative for the place that is wrong
     * @param end of it
     * @param words what stands there then
     * @param isName whether they are a name, to be written as what stands there is: in quotes, with a colon
     */
    public record Change(int start, int end, String words, boolean isName) {
        /** Words that are written as they are. */
        public Change(int start, int end, String words) {
            this(start, end, words, false);
        }
    }

    /** A sentence that asks for another name at the place that is wrong. */
    public static Suggestion names(String text, List<String> names) {
        return new Suggestion(
                text, names.stream().map(n -> new Change(-1, -1, n, true)).toList());
    }

    /** A sentence that asks for other words at the place that is wrong. */
    public static Suggestion instead(String text, List<String> words) {
        return new Suggestion(
                text, words.stream().map(w -> new Change(-1, -1, w)).toList());
    }

    /** A sentence that asks for other words from one place to another. */
    public static Suggestion between(String text, int start, int end, String words) {
        return new Suggestion(text, List.of(new Change(start, end, words)));
    }

    @Override
    public int length() {
        return text.length();
    }

    @Override
    public char charAt(int index) {
        return text.charAt(index);
    }

    @Override
    public CharSequence subSequence(int start, int end) {
        return text.subSequence(start, end);
    }

    @Override
    public String toString() {
        return text;
    }
}
