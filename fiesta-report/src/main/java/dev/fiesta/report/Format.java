package dev.fiesta.report;

/** What a report can be written as. */
public enum Format {
    /** Tables in characters. */
    TERMINAL,
    /** One file of delimited text for each table. */
    CSV,
    /** One self-contained page. */
    HTML
}
