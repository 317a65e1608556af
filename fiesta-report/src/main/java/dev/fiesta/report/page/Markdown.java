package dev.fiesta.report.page;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.PieceVisitor;
import dev.fiesta.output.Utf8Writer;
import dev.fiesta.report.content.Content;
import dev.fiesta.report.content.Courses;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.report.text.Lines;
import dev.fiesta.report.text.NoteSigns;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** The report as marked-up text, with tables of bars and dashes. */
public final class Markdown implements PieceVisitor<Markdown.Part> {
    /** A part of the page, written where it stands; nothing where there is none. */
    @FunctionalInterface
    interface Part {
        void to(Appendable out) throws IOException;
    }

    private static final Pattern BREAKS = Pattern.compile("\\R");
    private static final Part NOTHING = out -> {};

    private final Content report;
    private final LocaleStyle locale;

    public Markdown(Content report) {
        this.report = report;
        this.locale = LocaleStyle.of(report.locale());
    }

    public static void write(Content report, OutputStream out) throws IOException {
        Writer text = new Utf8Writer(out);
        new Markdown(report).write(text);
        text.flush();
    }

    public String render() {
        StringBuilder out = new StringBuilder();
        try {
            write(out);
        } catch (IOException e) {
            throw new UncheckedIOException(e); // a builder takes everything
        }
        return out.toString();
    }

    private void write(Appendable out) throws IOException {
        out.append("# ").append(escaped(report.title())).append('\n');
        for (String warning : report.warnings()) {
            out.append("\n> ").append(escaped(warning).replace("\n", "\n> ")).append('\n');
        }
        for (BriefTree.Piece piece : report.pieces()) {
            Part part = piece.accept(this);
            if (part != NOTHING) {
                out.append('\n');
                part.to(out);
            }
        }
    }

    @Override
    public Part heading(BriefTree.Heading heading) {
        return text("## " + escaped(report.fill(heading.text())) + "\n");
    }

    @Override
    public Part say(BriefTree.Say say) {
        return text(escaped(report.fill(say.text())) + "\n");
    }

    @Override
    public Part table(BriefTree.ShowTable show) {
        return out -> {
            out.append("**").append(escaped(report.title(show))).append("**\n\n");
            table(report.result(show.table().name()), show.rows(), out);
            if (show.note() != null) {
                out.append('\n').append(escaped(report.fill(show.note()))).append('\n');
            }
        };
    }

    @Override
    public Part figures(BriefTree.Figures figures) {
        String title = figures.title() == null ? "" : "**" + escaped(report.fill(figures.title())) + "**\n\n";
        return text(report.figures(figures).entrySet().stream()
                .map(f -> "- " + escaped(f.getKey()) + ": **" + escaped(f.getValue()) + "**\n")
                .collect(Collectors.joining("", title, "")));
    }

    @Override
    public Part chart(BriefTree.Chart chart) {
        return text("![" + escaped(report.title(chart)) + "](" + report.chartFile(chart, "svg") + ")\n");
    }

    @Override
    public Part newPage(BriefTree.NewPage page) {
        return NOTHING;
    }

    private static Part text(String text) {
        return text.isEmpty() ? NOTHING : out -> out.append(text);
    }

    private void table(Result result, int most, Appendable out) throws IOException {
        int shown = most > 0 ? Math.min(most, result.rows()) : result.rows();
        List<CellFormat> formats = new ArrayList<>();
        for (ViewColumn view : result.view()) {
            formats.add(new CellFormat(locale, view, result.column(view.field())));
        }
        List<Courses.Column> courses = report.courses(result);
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
        Iterable<Lines.Line> lines = Lines.each(result, shown, result.view());
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
            out.append(line(with(courses, c -> number < 0 ? "" : cell(c.rows().get(number)), cells)));
        }
        List<String> notes = new ArrayList<>(signs.told());
        notes.addAll(Lines.notes(result, shown, locale));
        for (String note : notes) {
            out.append('\n').append(escaped(note)).append('\n');
        }
    }

    private static String cell(Courses.@Nullable Course course) {
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
        for (char c : BREAKS.matcher(Texts.printable(text)).replaceAll(" ").toCharArray()) {
            out.append("\\`*_[]<>|#~".indexOf(c) >= 0 ? "\\" : "").append(c);
        }
        return out.toString();
    }
}
