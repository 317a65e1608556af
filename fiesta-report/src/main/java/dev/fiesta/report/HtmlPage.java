package dev.fiesta.report;

import java.util.List;
import java.util.Locale;
import java.util.Map;

/** The report as one page that needs nothing else. All texts are escaped by the template. */
final class HtmlPage {
    private HtmlPage() {}

    static String render(Report report) {
        return fill("report.html.peb", report, new Blocks(report, false).all());
    }

    /** The page for paper: no scripts, charts in their own colours, well-formed for programs that set pages. */
    static String renderForPaper(Report report) {
        return fill("paper.html.peb", report, new Blocks(report, true).all());
    }

    private static String fill(String template, Report report, List<Blocks.Block> blocks) {
        List<Blocks.Block> contents =
                blocks.stream().filter(b -> b.kind().equals("heading")).toList();
        Map<String, Object> values = Map.of(
                "title",
                report.title(),
                "language",
                Locale.forLanguageTag(report.locale()).getLanguage(),
                "blocks",
                blocks,
                "contents",
                contents.size() > 1 ? contents : List.of(),
                "warnings",
                report.warnings(),
                "particulars",
                report.particulars(),
                "words",
                Words.of(report.locale()).all());
        return Pages.fill(template, values);
    }
}
