package dev.fiesta.output;

/**
 * How delimited text is written.
 *
 * @param delimiter what stands between cells
 * @param guarded whether texts that a spreadsheet would take for a formula get an apostrophe in front
 */
public record TextStyle(char delimiter, boolean guarded) {
    public static final TextStyle CSV = new TextStyle(',', false);
    public static final TextStyle TSV = new TextStyle('\t', false);

    public TextStyle {
        if (delimiter > 126 || delimiter == '"' || delimiter == '\n' || delimiter == '\r') {
            throw new IllegalArgumentException("'" + delimiter + "' cannot be a delimiter");
        }
    }

    /** This style with formulas defused, or not. */
    public TextStyle guarded(boolean guard) {
        return new TextStyle(delimiter, guard);
    }
}
