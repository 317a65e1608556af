package dev.fiesta.problem;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** The brief, or a text given to the library, is wrong; told before any record is worked out. */
public final class BriefException extends FiestaException {
    private static final long serialVersionUID = 1L;

    private final ArrayList<Problem> problems;

    /** @param problems what is wrong, in the order of the text; at least one */
    public BriefException(List<Problem> problems) {
        super(problems.stream().map(Problem::text).collect(Collectors.joining("\n\n")), null);
        this.problems = new ArrayList<>(problems);
    }

    /** {@return what is wrong, in the order of the text} */
    public List<Problem> problems() {
        return List.copyOf(problems);
    }
}
