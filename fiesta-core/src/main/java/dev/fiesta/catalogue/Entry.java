package dev.fiesta.catalogue;

/**
 * What the language offers under one name: the line that help and the reference show.
 *
 * @param name the name in a brief
 * @param family where it belongs
 * @param usage how it is called, for instance {@code round(x[, digits])}
 * @param about one sentence
 * @param example an expression; for gathering and walking functions over {@link SampleTable}
 * @param result what the example gives
 */
public record Entry(String name, Family family, String usage, String about, String example, String result) {
    /** The families of functions. */
    public enum Family {
        NUMBERS("Numbers"),
        TEXTS("Texts"),
        DATES("Dates and times"),
        CONVERSIONS("Conversions and missing values"),
        GATHERING("Gathering functions"),
        WALKING("Walking functions");

        private final String title;

        Family(String title) {
            this.title = title;
        }

        /** {@return as a heading} */
        public String title() {
            return title;
        }
    }
}
