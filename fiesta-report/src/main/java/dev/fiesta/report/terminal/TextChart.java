package dev.fiesta.report.terminal;

import dev.fiesta.Result;
import dev.fiesta.language.BriefTree;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.chart.ChartData;
import dev.fiesta.report.text.Words;
import dev.fiesta.value.LocaleStyle;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import java.util.Set;

/** Charts in letters, for a terminal: bars to the side, and lines and points in a field of signs. */
public final class TextChart {
    private static final String EIGHTHS = " ▏▎▍▌▋▊▉";
    private static final String SIGNS = "●○■□▲△◆◇";
    private static final Set<String> KNOWN = Set.of("bars", "columns", "lines", "areas", "points");
    private static final int WIDEST_LABEL = 24;
    private static final int WIDEST = 100;
    private static final int HEIGHT = 14;
    private static final int MOST_BARS = 60;
    /** The place of a point that has no value. */
    private static final int[] GAP = {};

    private final BriefTree.Chart piece;
    private final ChartData data;
    private final int width;
    private final Words words;

    private TextChart(BriefTree.Chart piece, Result result, LocaleStyle locale, int width) {
        this.piece = piece;
        this.data = new ChartData(piece, result, locale);
        this.width = Math.min(width, WIDEST);
        this.words = Words.of(locale.tag());
    }

    /**
     * A chart.
     *
     * @param width characters of a line
     * @throws RequestException when its kind needs more than letters
     */
    public static String of(BriefTree.Chart piece, Result result, LocaleStyle locale, int width) {
        if (!KNOWN.contains(piece.kind())
                || piece.apart() != null
                || piece.options().log()) {
            throw new RequestException(
                    "In a terminal bars, columns, lines, areas and points are drawn, none of them apart or logarithmic; see any other"
                            + " chart with 'fiesta watch BRIEF --page'.");
        }
        TextChart chart = new TextChart(piece, result, locale, width);
        List<ChartData.Series> series = chart.data.series();
        if (series.stream().allMatch(s -> s.points().stream().allMatch(p -> p.y() == null))) {
            return chart.words.get("no_rows") + "\n";
        }
        boolean bars = piece.kind().equals("bars") || piece.kind().equals("columns") || chart.data.isPlaces();
        return bars ? chart.bars(series) : chart.field(series);
    }

    /** One bar. */
    private record Bar(String label, double value, String shown) {}

    private String bars(List<ChartData.Series> series) {
        List<Bar> bars = new ArrayList<>();
        int most = series.stream().mapToInt(s -> s.points().size()).max().orElse(0);
        for (int i = 0; i < most; i++) {
            for (ChartData.Series one : series) {
                if (i < one.points().size()) {
                    ChartData.Point point = one.points().get(i);
                    String label = series.size() == 1 ? point.label() : point.label() + ", " + one.name();
                    if (point.y() != null) {
                        bars.add(new Bar(TextTable.oneLine(label), point.y(), point.shown()));
                    }
                }
            }
        }
        int left = bars.size() - Math.min(bars.size(), MOST_BARS);
        List<Bar> drawn = bars.subList(0, bars.size() - left);
        int labels = Math.min(
                WIDEST_LABEL,
                drawn.stream().mapToInt(b -> length(b.label())).max().orElse(0));
        int values = drawn.stream().mapToInt(b -> length(b.shown())).max().orElse(0);
        double least = Math.min(0, drawn.stream().mapToDouble(Bar::value).min().orElse(0));
        double greatest =
                Math.max(0, drawn.stream().mapToDouble(Bar::value).max().orElse(0));
        double room = Math.max(10, width - labels - values - 4);
        double unit = greatest == least ? 0 : room / (greatest - least);
        int zero = (int) Math.round(-least * unit);
        StringBuilder text = new StringBuilder(heading(series));
        for (Bar bar : drawn) {
            text.append(TextTable.cell(bar.label(), labels, false)).append("  ");
            text.append(TextTable.cell(bar.shown(), values, true)).append("  ");
            int from = bar.value() < 0 ? zero - (int) Math.round(-bar.value() * unit) : zero;
            String drawnBar = bar.value() < 0 ? "█".repeat(zero - from) : positive(bar.value() * unit);
            text.append((" ".repeat(from) + drawnBar).stripTrailing()).append('\n');
        }
        if (left > 0) {
            text.append("… ").append(left).append('\n');
        }
        return text.toString();
    }

    private static String positive(double length) {
        int eighths = (int) Math.round(length * 8);
        String rest = eighths % 8 == 0 ? "" : String.valueOf(EIGHTHS.charAt(eighths % 8));
        return "█".repeat(eighths / 8) + rest;
    }

    private String heading(List<ChartData.Series> series) {
        StringBuilder text = new StringBuilder(data.valueTitle()).append('\n');
        if (series.size() > 1 && !piece.kind().equals("bars") && !piece.kind().equals("columns")) {
            for (int i = 0; i < series.size(); i++) {
                text.append(i == 0 ? "" : "   ")
                        .append(sign(i))
                        .append(' ')
                        .append(TextTable.oneLine(series.get(i).name()));
            }
            text.append('\n');
        }
        return text.toString();
    }

    private static char sign(int series) {
        return SIGNS.charAt(series % SIGNS.length());
    }

    private String field(List<ChartData.Series> series) {
        List<ChartData.Point> points = series.stream()
                .flatMap(s -> s.points().stream())
                .filter(p -> p.y() != null)
                .toList();
        ChartData.Point low = Collections.min(points, (a, b) -> Double.compare(y(a), y(b)));
        ChartData.Point high = Collections.max(points, (a, b) -> Double.compare(y(a), y(b)));
        ChartData.Point first = Collections.min(points, (a, b) -> Double.compare(a.at(), b.at()));
        ChartData.Point last = Collections.max(points, (a, b) -> Double.compare(a.at(), b.at()));
        int scale = Math.max(length(low.shown()), length(high.shown()));
        int columns = Math.max(10, width - scale - 3);
        char[][] signs = new char[HEIGHT][columns];
        for (char[] line : signs) {
            Arrays.fill(line, ' ');
        }
        List<List<int[]>> placed = new ArrayList<>();
        for (ChartData.Series one : series) {
            List<int[]> places = new ArrayList<>();
            for (ChartData.Point point : one.points()) {
                places.add(
                        point.y() == null
                                ? GAP
                                : new int[] {
                                    place(y(high) - y(point), y(high) - y(low), HEIGHT),
                                    place(point.at() - first.at(), last.at() - first.at(), columns)
                                });
            }
            placed.add(places);
        }
        if (!piece.kind().equals("points")) {
            placed.forEach(places -> join(signs, places));
        }
        for (int i = series.size() - 1; i >= 0; i--) {
            for (int[] place : placed.get(i)) {
                if (place != GAP) {
                    signs[place[0]][place[1]] = sign(i);
                }
            }
        }
        StringBuilder text = new StringBuilder(heading(series));
        for (int line = 0; line < HEIGHT; line++) {
            String value = line == 0 ? high.shown() : line == HEIGHT - 1 ? low.shown() : "";
            text.append(" ".repeat(scale - length(value))).append(value).append(" │ ");
            text.append(new String(signs[line]).stripTrailing()).append('\n');
        }
        text.append(" ".repeat(scale))
                .append(" └")
                .append("─".repeat(columns + 1))
                .append('\n');
        String left = TextTable.oneLine(first.label());
        String right = TextTable.oneLine(last.label());
        int between = Math.max(1, columns - length(left) - length(right));
        text.append(" ".repeat(scale + 3)).append(left);
        text.append(" ".repeat(between)).append(right).append('\n');
        return text.toString();
    }

    /** Dots from one point to the next; a gap in the series stays one. */
    private static void join(char[][] signs, List<int[]> places) {
        for (int i = 1; i < places.size(); i++) {
            if (places.get(i - 1) != GAP && places.get(i) != GAP) {
                join(signs, places.get(i - 1), places.get(i));
            }
        }
    }

    private static void join(char[][] signs, int[] from, int[] to) {
        int steps = Math.max(Math.abs(to[0] - from[0]), Math.abs(to[1] - from[1]));
        for (int i = 1; i < steps; i++) {
            int line = from[0] + Math.round((float) (to[0] - from[0]) * i / steps);
            int column = from[1] + Math.round((float) (to[1] - from[1]) * i / steps);
            signs[line][column] = '·';
        }
    }

    private static double y(ChartData.Point point) {
        return Objects.requireNonNull(point.y());
    }

    /** Where a distance stands among so many places. */
    private static int place(double distance, double whole, int places) {
        return whole == 0 ? places / 2 : (int) Math.round(distance / whole * (places - 1));
    }

    private static int length(String text) {
        return text.codePointCount(0, text.length());
    }
}
