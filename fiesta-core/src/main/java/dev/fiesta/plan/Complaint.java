package dev.fiesta.plan;

import dev.fiesta.problem.Problem;

/** Thrown where a text cannot be right; caught where the next part of it can still be looked at. */
final class Complaint extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final transient Problem problem;

    Complaint(Problem problem) {
        super(problem.message(), null, false, false);
        this.problem = problem;
    }

    Problem problem() {
        return problem;
    }
}
