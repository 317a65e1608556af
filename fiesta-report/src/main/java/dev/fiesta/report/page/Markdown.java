package dev.fiesta.report.page;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.PieceVisitor;
import dev.fiesta.report.content.Content;
import dev.fiesta.report.content.Courses;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.report.text.Lines;
import dev.fiesta.report.text.NoteSigns;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** The report as marked-up text, with tables of bars and dashes. */
public final class Markdown implements PieceVisitor<String> {
    private final Content report;
    private final LocaleStyle locale;

    public Markdown(Content report) {
        this.report = report;
        this.locale = LocaleStyle.of(report.locale());
    }

    public static void write(Content report, OutputStream out) throws IOException {
        out.write(new Markdown(report).render().getBytes(StandardCharsets.UTF_8));
    }

    public String render() {
        StringBuilder out = new StringBuilder("# " + escaped(report.title()) + "\n");
        report.warnings()
                .forEach(w -> out.append("\n> ")
                        .append(escaped(w).replace("\n", "\n> "))
                        .append('\n'));
        for (BriefTree.Piece piece : report.pieces()) {
            String text = piece.accept(this);
            out.append(text.isEmpty() ? "" : "\n" + text);
        }
        return out.toString();
    }

    @Override
    public String heading(BriefTree.Heading heading) {
        return "## " + escaped(report.fill(heading.text())) + "\n";
    }

    @Override
    public String say(BriefTree.Say say) {
        return escaped(report.fill(say.text())) + "\n";
    }

    @Override
    public String table(BriefTree.ShowTable show) {
        return "**" + escaped(report.title(show)) + "**\n\n"
                + table(report.result(show.table().name()), show.rows())
                + (show.note() == null ? "" : "\n" + escaped(report.fill(show.note())) + "\n");
    }

    @Override
    public String figures(BriefTree.Figures figures) {
        String title = figures.title() == null ? "" : "**" + escaped(report.fill(figures.title())) + "**\n\n";
        return report.figures(figures).entrySet().stream()
                .map(f -> "- " + escaped(f.getKey()) + ": **" + escaped(f.getValue()) + "**\n")
                .collect(Collectors.joining("", title, ""));
    }

    @Override
    public String chart(BriefTree.Chart chart) {
        return "![" + escaped(report.title(chart)) + "](" + report.chartFile(chart, "svg") + ")\n";
    }

    @Override
    public String newPage(BriefTree.NewPage page) {
        return "";
    }

    private String table(Result result, int most) {
        int shown = most > 0 ? Math.min(most, result.rows()) : result.rows();
        List<CellFormat> formats = new ArrayList<>();
        for (ViewColumn view : result.view()) {
            formats.add(new CellFormat(locale, view, result.column(view.field())));
        }
        List<Courses.Column> courses = report.courses(result);
        StringBuilder out = new StringBuilder();
        out.append(line(with(
                courses,
                c -> escaped(c.title()),
                formats.stream()
                        .map(f -> escaped(f.title() + (f.unit().isEmpty() ? "" : " " + f.unit())))
                        .toList())));
        out.append(line(with(
                courses,
                c -> "---",
                formats.stream().map(f -> f.right() ? "---:" : "---").toList())));
        List<Lines.Line> lines = Lines.of(result, shown);
        NoteSigns signs = NoteSigns.of(lines);
        int row = 0;
        for (Lines.Line line : lines) {
            List<String> cells = new ArrayList<>();
            for (int c = 0; c < formats.size(); c++) {
                String text =
                        escaped(line.print(c, formats.get(c)) + (line.few().get(c) ? "*" : "") + signs.at(line, c));
                cells.add(line.kind() == Lines.Kind.ROW || text.isEmpty() ? text : "**" + text + "**");
            }
            int number = line.kind() == Lines.Kind.ROW ? row++ : -1;
            out.append(line(with(courses, c -> number < 0 ? "" : text(c.rows().get(number)), cells)));
        }
        signs.told().forEach(n -> out.append('\n').append(escaped(n)).append('\n'));
        Lines.notes(result, shown, locale)
                .forEach(n -> out.append('\n').append(escaped(n)).append('\n'));
        return out.toString();
    }

    private static String text(Courses.@Nullable Course course) {
        return course == null ? "" : escaped(course.text());
    }

    /** Cells with those of courses between them. */
    private static List<String> with(
            List<Courses.Column> courses, Function<Courses.Column, String> cell, List<String> cells) {
        List<String> all = new ArrayList<>(cells);
        for (int i = courses.size() - 1; i >= 0; i--) {
            all.add(courses.get(i).place(), cell.apply(courses.get(i)));
        }
        return all;
    }

    private static String line(List<String> cells) {
        return "| " + String.join(" | ", cells) + " |\n";
    }

    /** Signs that would mean something are written out. */
    private static String escaped(String text) {
        StringBuilder out = new StringBuilder();
        for (char c : Texts.printable(text).replaceAll("\\R", " ").toCharArray()) {
            out.append("\\`*_[]<>|#~".indexOf(c) >= 0 ? "\\" : "").append(c);
        }
        return out.toString();
    }
}
