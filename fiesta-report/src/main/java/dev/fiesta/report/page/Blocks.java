package dev.fiesta.report.page;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.PieceVisitor;
import dev.fiesta.report.chart.ChartImage;
import dev.fiesta.report.chart.ChartSheet;
import dev.fiesta.report.content.Content;
import dev.fiesta.report.content.Courses;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.report.text.Lines;
import dev.fiesta.report.text.Words;
import dev.fiesta.value.LocaleStyle;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** The pieces of a report as the templates of pages take them: all texts formatted, none escaped. */
public final class Blocks {
    /** A piece; {@code kind} says which record it is. */
    public interface Block {
        String kind();

        String id();
    }

    /**
     * A heading, a text, or the end of a page.
     *
     * @param turned whether it stands on a turned page of paper
     */
    public record Words(String kind, String id, String text, boolean turned) implements Block {
        Words(String kind, String id, String text) {
            this(kind, id, text, false);
        }
    }

    /** A chart as an SVG element. */
    public record Picture(String kind, String id, String text, String svg, String note) implements Block {}

    /** Two charts beside each other on paper. */
    public record Pair(String kind, String id, Picture left, Picture right) implements Block {}

    /** Single figures. */
    public record Facts(String kind, String id, String text, List<Fact> facts) implements Block {}

    /** A single figure with its name. */
    public record Fact(String name, String unit, String value) {}

    /**
     * A table.
     *
     * @param notes what stands under it
     * @param tall whether it is longer than a window
     * @param closing the number of last rows that belong together on paper
     * @param keys how many of the first columns tell the rows apart
     * @param turned whether it stands on a turned page of paper
     */
    public record Table(
            String kind,
            String id,
            String text,
            List<Head> heads,
            Collection<Line> rows,
            List<String> notes,
            boolean tall,
            int closing,
            int keys,
            boolean turned)
            implements Block {
        /** Some of its columns, as a table of its own; the notes stand under the last. */
        Table with(String part, String title, List<Integer> columns, boolean across, boolean last) {
            List<Line> lines = rows.stream()
                    .map(r -> new Line(
                            r.kind(), columns.stream().map(r.cells()::get).toList(), r.behind()))
                    .toList();
            List<Head> some = columns.stream().map(heads::get).toList();
            return new Table(kind, part, title, some, lines, last ? notes : List.of(), tall, closing, keys, across);
        }

        /** Whether it stands on one page of paper, with what is above it. */
        public boolean whole() {
            return rows.size() <= (turned ? 10 : 20)
                    && rows.stream().flatMap(r -> r.cells().stream()).noneMatch(Cell::unbroken);
        }

        /** How many rows a page shows before one scrolls: more would keep a browser busy for long. */
        public int atOnce() {
            return 2_000;
        }
    }

    /** A line of a table; its kind is row, subtotal or total. */
    public record Line(String kind, List<Cell> cells, List<BehindTable> behind) {}

    /** The records behind a row. */
    public record BehindTable(String title, List<String> heads, List<List<String>> rows) {}

    /**
     * A column heading.
     *
     * @param looks the classes that it has: right, brief where it stands on one line, barred where bars stand below
     */
    public record Head(String title, String unit, String looks) {
        /** The words of the title; those with a dash, such as days, are not broken. */
        public List<String> words() {
            return List.of(title.split(" "));
        }

        static Head of(CellFormat format) {
            List<String> looks = new ArrayList<>();
            if (format.right()) {
                looks.add("right");
            }
            if (format.title().length() <= BRIEF) {
                looks.add("brief");
            }
            if (format.bar()) {
                looks.add("barred");
            }
            return new Head(format.title(), format.unit(), String.join(" ", looks));
        }
    }

    /**
     * A cell.
     *
     * @param raw the plain number, for sorting
     * @param bar the bar beside it, or null for none
     * @param shade strength of the background from 0 to 4, -1 for none
     * @param few whether it rests on few records
     * @param signs of the notes at it
     * @param course a drawing instead of a text, or nothing
     * @param again whether it is a key that the row above has too
     */
    public record Cell(
            String text,
            String raw,
            boolean right,
            boolean missing,
            boolean negative,
            @Nullable Bar bar,
            int shade,
            boolean few,
            String signs,
            boolean again,
            String course) {
        /** Whether it holds a word so long that it is broken on paper. */
        public boolean unbroken() {
            return !right && PaperBlocks.longestWord(text) > PaperBlocks.WRAPPED;
        }

        static Cell drawn(String course) {
            return new Cell("", "", false, false, false, null, -1, false, "", false, course);
        }
    }

    /**
     * A bar, in hundredths of the room for it.
     *
     * @param signed whether it grows to both sides from the middle
     */
    public record Bar(int from, int width, boolean signed) {
        static Bar of(double part, boolean negative, boolean signed) {
            if (!signed) {
                return new Bar(0, (int) Math.round(part * 100), false);
            }
            int width = (int) Math.round(part * 50);
            return new Bar(negative ? 50 - width : 50, width, true);
        }
    }

    private static final int TALL = 24;
    /** So many characters stand beside each other under half the width of a page. */
    private static final int MOST_LABELLED = 40;
    /** So many rows of a table are drawn at half the width of a page. */
    private static final Map<String, Integer> SMALL =
            Map.of("bars", 10, "columns", 8, "lines", 60, "areas", 60, "boxes", 60, "histogram", Integer.MAX_VALUE);
    /** A heading of so many characters, such as a month and its year, is not broken. */
    private static final int BRIEF = 12;

    private final Content report;
    private final LocaleStyle locale;
    private final boolean paper;
    private final Map<String, Integer> higher;

    /** For a page that is shown. */
    public Blocks(Content report) {
        this(report, false, Map.of());
    }

    /**
     * For paper, where charts keep their own colours.
     *
     * @param higher for charts by their ids how much higher they are drawn than they would be
     */
    public static Blocks forPaper(Content report, Map<String, Integer> higher) {
        return new Blocks(report, true, higher);
    }

    private Blocks(Content report, boolean paper, Map<String, Integer> higher) {
        this.higher = higher;
        this.report = report;
        this.locale = LocaleStyle.of(report.locale());
        this.paper = paper;
    }

    public List<Block> all() {
        List<Block> blocks = new ArrayList<>();
        List<BriefTree.Piece> pieces = report.pieces();
        for (int i = 0; i < pieces.size(); i++) {
            String id = "part-" + (blocks.size() + 1);
            boolean pair = paper && i + 1 < pieces.size() && isSmall(pieces.get(i)) && isSmall(pieces.get(i + 1));
            if (pair) {
                Picture left = picture((BriefTree.Chart) pieces.get(i), id, true);
                blocks.add(new Pair("pair", id, left, picture((BriefTree.Chart) pieces.get(++i), id, true)));
            } else {
                blocks.add(block(pieces.get(i), id));
            }
        }
        return blocks;
    }

    /** A chart of one series with few marks, which can be read at half the width of a page. */
    private boolean isSmall(BriefTree.Piece piece) {
        if (!(piece instanceof BriefTree.Chart chart)
                || chart.by() != null
                || chart.apart() != null
                || chart.y().size() > 1
                || !chart.options().lines().isEmpty()) {
            return false;
        }
        Result result = report.result(chart.table().name());
        boolean upright = chart.kind().equals("columns") || chart.kind().equals("boxes");
        return result.rows() <= SMALL.getOrDefault(chart.kind(), 0)
                && (!upright || labels(result, chart.x().name()) <= MOST_LABELLED);
    }

    /** The characters of the different values of a field, with what stands between them. */
    private int labels(Result result, String field) {
        CellFormat format = CellFormat.of(locale, result, field);
        return IntStream.range(0, result.rows())
                .mapToObj(row -> format.print(result.column(field).get(row)))
                .distinct()
                .mapToInt(label -> label.length() + 2)
                .sum();
    }

    private Block block(BriefTree.Piece piece, String id) {
        return piece.accept(new PieceVisitor<>() {
            @Override
            public Block heading(BriefTree.Heading heading) {
                return new Words("heading", id, report.fill(heading.text()));
            }

            @Override
            public Block say(BriefTree.Say say) {
                return new Words("say", id, report.fill(say.text()));
            }

            @Override
            public Block table(BriefTree.ShowTable show) {
                @Nullable
                Result samples = paper ? null : report.samples(show.table().name());
                return Blocks.this.table(id, show, report.result(show.table().name()), samples);
            }

            @Override
            public Block figures(BriefTree.Figures figures) {
                return Blocks.this.figures(id, figures);
            }

            @Override
            public Block chart(BriefTree.Chart chart) {
                return picture(chart, id, false);
            }

            @Override
            public Block newPage(BriefTree.NewPage page) {
                return new Words("page", id, "");
            }
        });
    }

    /** @param half whether it has half the width of a page of paper */
    private Picture picture(BriefTree.Chart chart, String id, boolean half) {
        String title = report.title(chart);
        ChartSheet drawn = report.draw(chart).taller(higher.getOrDefault(id, 0));
        String svg = paper ? ChartImage.forPaper(drawn, title, half) : ChartImage.forPage(drawn, id, title);
        List<String> notes = new ArrayList<>();
        if (chart.options().note() != null) {
            notes.add(report.fill(chart.options().note()));
        }
        notes.addAll(drawn.note().isEmpty() ? List.of() : List.of(drawn.note()));
        return new Picture("chart", id, title, svg, String.join("; ", notes));
    }

    private Block figures(String id, BriefTree.Figures figures) {
        Result result = report.result(figures.table().name());
        List<Fact> facts = new ArrayList<>();
        for (var field : figures.fields()) {
            CellFormat format = CellFormat.of(locale, result, field.name());
            Object value = result.rows() == 0 ? null : result.shown(field.name(), 0);
            facts.add(new Fact(format.title(), format.unit(), format.print(value)));
        }
        return new Facts("figures", id, figures.title() == null ? "" : report.fill(figures.title()), facts);
    }

    private Block table(String id, BriefTree.ShowTable show, Result result, @Nullable Result samples) {
        List<String> notes = show.note() == null ? List.of() : List.of(report.fill(show.note()));
        return table(
                id, report.title(show), result, show.rows(), report.courses(result), samples, notes, locale, paper);
    }

    /** A table as it is, all rows. */
    public static Table table(String id, String title, Result result, List<String> notes, LocaleStyle locale) {
        return table(id, title, result, 0, List.of(), null, notes, locale, false);
    }

    /**
     * @param most rows, 0 for all
     * @param samples records behind the rows, or null for none
     * @param first notes before those that the table has itself
     */
    private static Table table(
            String id,
            String title,
            Result result,
            int most,
            List<Courses.Column> courses,
            @Nullable Result samples,
            List<String> first,
            LocaleStyle locale,
            boolean paper) {
        int shown = most > 0 ? Math.min(most, result.rows()) : result.rows();
        TableLines lines = new TableLines(result, shown, courses, samples, locale, paper);
        // On paper lines are looked at more than once; a page takes them as they come.
        Collection<Line> rows = paper ? List.copyOf(lines) : lines;
        List<String> notes = new ArrayList<>(first);
        notes.addAll(lines.signs().told());
        notes.addAll(Lines.notes(result, shown, locale));
        int keys = (int) result.view().stream().takeWhile(ViewColumn::key).count();
        int size = rows.size();
        return new Table("table", id, title, lines.heads(), rows, notes, size > TALL, Math.min(size, 3), keys, false);
    }
}
