package dev.fiesta.plan;

/** Thrown where a clause needs a table of which nothing is known: nothing can be said of what follows. */
final class Unknown extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Unknown() {
        super(null, null, false, false);
    }
}
