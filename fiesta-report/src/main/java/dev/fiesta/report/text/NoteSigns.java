package dev.fiesta.report.text;

import java.util.ArrayList;
import java.util.List;

/** The notes at the cells of a table, numbered in the order in which they are met. */
public final class NoteSigns {
    private static final String RAISED = "⁰¹²³⁴⁵⁶⁷⁸⁹";

    private final List<String> notes = new ArrayList<>();

    /** The notes of some lines. */
    public static NoteSigns of(Iterable<Lines.Line> lines) {
        NoteSigns signs = new NoteSigns();
        lines.forEach(signs::add);
        return signs;
    }

    /** Takes the notes of one more line in. */
    public void add(Lines.Line line) {
        for (List<String> cell : line.notes()) {
            for (String note : cell) {
                if (!notes.contains(note)) {
                    notes.add(note);
                }
            }
        }
    }

    /** What stands at a cell, such as {@code ¹} or {@code ¹ ³}. */
    public String at(Lines.Line line, int column) {
        if (notes.isEmpty() || column >= line.notes().size()) {
            return "";
        }
        return String.join(
                " ",
                line.notes().get(column).stream()
                        .map(n -> sign(notes.indexOf(n)))
                        .toList());
    }

    /** What stands under the table, {@code ¹ A short day.} */
    public List<String> told() {
        List<String> told = new ArrayList<>();
        for (int i = 0; i < notes.size(); i++) {
            told.add(sign(i) + " " + notes.get(i));
        }
        return told;
    }

    private static String sign(int number) {
        StringBuilder sign = new StringBuilder();
        for (char digit : Integer.toString(number + 1).toCharArray()) {
            sign.append(RAISED.charAt(digit - '0'));
        }
        return sign.toString();
    }
}
