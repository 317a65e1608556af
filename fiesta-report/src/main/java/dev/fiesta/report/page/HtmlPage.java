package dev.fiesta.report.page;

import dev.fiesta.report.content.Content;
import dev.fiesta.report.text.Words;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** The report as one page that needs nothing else. All texts are escaped by the template. */
public final class HtmlPage {
    private HtmlPage() {}

    public static String render(Content report) {
        StringWriter out = new StringWriter();
        try {
            write(report, out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toString();
    }

    /** Writes the page as it is made: the rows of long tables are never all held as a text. */
    public static void write(Content report, OutputStream out) throws IOException {
        Writer text = new OutputStreamWriter(out, StandardCharsets.UTF_8);
        write(report, text);
        text.flush();
    }

    private static void write(Content report, Writer out) throws IOException {
        Pages.fill("report.html.peb", values(report, new Blocks(report).all()), out);
    }

    /**
     * What stands on paper, charts in their own colours.
     *
     * @param higher for charts by their ids how much higher they are drawn than they would be
     */
    static List<Blocks.Block> blocksForPaper(Content report, Map<String, Integer> higher) {
        return PaperBlocks.fitted(Blocks.forPaper(report, higher).all());
    }

    /** The page for paper: no scripts, well-formed for programs that set pages. */
    static String renderForPaper(Content report, List<Blocks.Block> blocks) {
        return Pages.fill("paper.html.peb", values(report, blocks));
    }

    /**
     * What warns at the head of the page.
     *
     * @param text what is wrong
     * @param rows the first rows for which it is
     * @param more the others that were told
     */
    public record Warning(String text, List<String> rows, List<String> more) {
        private static final int FIRST = 5;
        private static final String ROW = "    ";

        public static Warning of(String told) {
            List<String> lines = told.lines().toList();
            List<String> rows = lines.stream()
                    .filter(l -> l.startsWith(ROW))
                    .map(String::strip)
                    .toList();
            String text = lines.stream()
                    .filter(l -> !l.startsWith(ROW))
                    .map(String::strip)
                    .collect(Collectors.joining("\n"));
            int first = Math.min(FIRST, rows.size());
            return new Warning(text, rows.subList(0, first), rows.subList(first, rows.size()));
        }

        /** How many others there are, as the page says it. */
        public String others() {
            return "+ " + more.size();
        }
    }

    /** A page of its own with blocks that no brief asked for. */
    public static String of(String title, String locale, List<Blocks.Block> blocks) {
        return Pages.fill("report.html.peb", values(title, locale, blocks, List.of(), List.of()));
    }

    private static Map<String, Object> values(Content report, List<Blocks.Block> blocks) {
        List<Warning> warnings = report.warnings().stream().map(Warning::of).toList();
        return values(report.title(), report.locale(), blocks, warnings, report.particulars());
    }

    private static Map<String, Object> values(
            String title,
            String locale,
            List<Blocks.Block> blocks,
            List<Warning> warnings,
            List<Content.Particular> particulars) {
        List<Blocks.Block> contents =
                blocks.stream().filter(b -> b.kind().equals("heading")).toList();
        return Map.of(
                "title",
                title,
                "language",
                Locale.forLanguageTag(locale).getLanguage(),
                "blocks",
                blocks,
                "contents",
                contents.size() > 1 ? contents : List.of(),
                "warnings",
                warnings,
                "particulars",
                particulars,
                "words",
                Words.of(locale).all());
    }
}
