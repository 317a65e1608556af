package dev.fiesta.report;

import java.util.Locale;

/** Where results can go. */
public enum Format {
    /** Characters, as a terminal shows them. */
    TERMINAL(""),
    /** One page that needs nothing else. */
    HTML("html"),
    /** Pages for paper. */
    PDF("pdf"),
    /** A workbook: a sheet for each table. */
    XLSX("xlsx"),
    /** The report as marked-up text. */
    MARKDOWN("md"),
    /** A file of comma-separated values for each table. */
    CSV("csv"),
    /** A file of tab-separated values for each table. */
    TSV("tsv"),
    /** A file for each table: a list of rows. */
    JSON("json"),
    /** A file for each table: a row a line. */
    JSONL("jsonl"),
    /** A file of columns for each table. */
    PARQUET("parquet"),
    /** A drawing for each chart. */
    SVG("svg"),
    /** A picture of each chart. */
    PNG("png");

    private final String ending;

    Format(String ending) {
        this.ending = ending;
    }

    /** {@return the ending of its files, without the point} */
    public String ending() {
        return ending;
    }

    /** {@return whether it writes tables as data, one file each} */
    public boolean isData() {
        return this == CSV || this == TSV || this == JSON || this == JSONL || this == PARQUET;
    }

    /** {@return whether its files are bytes that no terminal shows} */
    public boolean isBinary() {
        return this == PARQUET || this == PDF || this == XLSX || this == PNG;
    }

    /** Whether it writes a file for each chart. */
    boolean isChart() {
        return this == SVG || this == PNG;
    }

    /** As it is named on the command line. */
    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
