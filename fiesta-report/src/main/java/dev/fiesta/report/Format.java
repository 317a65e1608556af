package dev.fiesta.report;

import dev.fiesta.output.TextStyle;
import dev.fiesta.report.chart.ChartImage;
import dev.fiesta.report.page.HtmlPage;
import dev.fiesta.report.page.Markdown;
import dev.fiesta.report.page.PdfPages;
import dev.fiesta.report.workbook.Workbook;
import dev.fiesta.report.write.ChartsWriter;
import dev.fiesta.report.write.DocumentWriter;
import dev.fiesta.report.write.FormatWriter;
import dev.fiesta.report.write.TablesWriter;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/** Where results can go. */
public enum Format {
    /** Characters, as a terminal shows them. */
    TERMINAL("", null),
    /** One page that needs nothing else. */
    HTML("html", new DocumentWriter(HtmlPage::write)),
    /** Pages for paper. */
    PDF("pdf", new DocumentWriter((report, out) -> out.write(PdfPages.render(report)))),
    /** A workbook: a sheet for each table. */
    XLSX("xlsx", new DocumentWriter(Workbook::write)),
    /** The report as marked-up text. */
    MARKDOWN("md", new DocumentWriter(Markdown::write)),
    /** A file of comma-separated values for each table. */
    CSV("csv", TablesWriter.ofText((table, guarded, out) -> table.write(out, TextStyle.CSV.guarded(guarded)))),
    /** A file of tab-separated values for each table. */
    TSV("tsv", TablesWriter.ofText((table, guarded, out) -> table.write(out, TextStyle.TSV.guarded(guarded)))),
    /** A file for each table: a list of rows. */
    JSON("json", TablesWriter.ofText((table, guarded, out) -> DataFile.json(table, out, "[\n  ", ",\n  ", "\n]\n"))),
    /** A file for each table: a row a line. */
    JSONL("jsonl", TablesWriter.ofText((table, guarded, out) -> DataFile.json(table, out, "", "\n", "\n"))),
    /** A file of columns for each table; written by whoever has the jar that can. */
    PARQUET(
            "parquet",
            TablesWriter.ofBytes(
                    (table, guarded, out) -> DataFile.elsewhere("parquet").write(table, out))),
    /** A drawing for each chart. */
    SVG("svg", new ChartsWriter((chart, title) -> ChartImage.file(chart, title).getBytes(StandardCharsets.UTF_8))),
    /** A picture of each chart. */
    PNG("png", new ChartsWriter(ChartImage::png));

    private final String ending;
    private final @Nullable FormatWriter writer;

    Format(String ending, @Nullable FormatWriter writer) {
        this.ending = ending;
        this.writer = writer;
    }

    /** Who writes it; nobody writes files for a terminal. */
    @Nullable
    FormatWriter writer() {
        return writer;
    }

    /** {@return the ending of its files, without the point} */
    public String ending() {
        return ending;
    }

    /** {@return whether it writes tables as data, one file each} */
    public boolean isData() {
        return writer instanceof TablesWriter;
    }

    /** {@return whether its files are bytes that no terminal shows} */
    public boolean isBinary() {
        return this == PARQUET || this == PDF || this == XLSX || this == PNG;
    }

    /** As it is named on the command line. */
    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
