package dev.fiesta.report.chart;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.value.LocaleStyle;
import java.awt.Graphics2D;
import java.awt.geom.Rectangle2D;
import java.awt.image.BufferedImage;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import org.jfree.chart.axis.AxisState;
import org.jfree.chart.axis.CategoryLabelPositions;
import org.jfree.chart.axis.CategoryTick;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.CategoryPlot;
import org.jfree.chart.renderer.category.BarRenderer;
import org.jfree.chart.ui.RectangleEdge;
import org.jfree.data.category.DefaultCategoryDataset;
import org.junit.jupiter.api.Test;

/** What is drawn: as many lines and bars as the data has, labels escaped, gaps left open, the greys of the page. */
class ChartsTest {
    private static final int CHARTS = Integer.getInteger("fiesta.charts", 120);

    record Point(LocalDate day, String site, BigDecimal takings) {}

    private static Result result(int sites, int days, String name, Integer gapAt) {
        List<Point> points = new ArrayList<>();
        for (int s = 0; s < sites; s++) {
            for (int d = 0; d < days; d++) {
                BigDecimal takings = gapAt != null && gapAt == d ? null : BigDecimal.valueOf((s + 1) * 100L + d * 10);
                points.add(new Point(LocalDate.of(2026, 5, 1).plusDays(d), name + s, takings));
            }
        }
        try (Fiesta fiesta = Fiesta.open()) {
            return fiesta.records(Point.class, points).run();
        }
    }

    private static String draw(String chart, Result result) {
        String both = ChartImage.forPage(drawn(chart, result), "c1", "Title");
        return both.substring(both.indexOf("<svg"), both.indexOf("</div>"));
    }

    private static ChartSheet drawn(String chart, Result result) {
        return Charts.of(piece(chart), result, LocaleStyle.of("en-IE"), List.of());
    }

    private static dev.fiesta.language.BriefTree.Chart piece(String chart) {
        return (dev.fiesta.language.BriefTree.Chart) Parser.brief(new BriefText("t.brief", "report chart " + chart))
                .report()
                .get(0);
    }

    private static long count(String text, String pattern) {
        return Pattern.compile(pattern).matcher(text).results().count();
    }

    @Test
    void eachSeriesIsALineWithItsColourAndName() {
        String svg = draw("lines t x day y takings by site", result(3, 5, "site ", null));
        assertThat(svg)
                .startsWith("<svg")
                .contains("site 0", "site 1", "site 2")
                .contains("var(--series-1)", "var(--series-2)", "var(--series-3)");
        assertThat(svg)
                .doesNotContain("var(--series-4)")
                .contains("viewBox=\"0 0 920 400\"")
                .contains("role=\"img\"");
        assertThat(svg)
                .containsOnlyOnce(">1 May<")
                .containsOnlyOnce(">5 May<")
                .contains(">takings<")
                .doesNotContain(">day<");
    }

    @Test
    void moreThanEightSeriesAreTheEightLargestAndOthers() {
        Result eleven = result(11, 3, "site-", null);
        String lines = draw("lines t x day y takings by site", eleven);
        assertThat(lines)
                .contains("site-10", "site-3")
                .doesNotContain(">site-2<")
                .doesNotContain(">site-0<");
        assertThat(drawn("lines t x day y takings by site", eleven).note()).isEqualTo("3 smaller series, all in grey");
        assertThat(drawn("columns t x day y takings by site", eleven).note())
                .isEqualTo("the eight largest of 11 series");
        assertThat(drawn("columns t x day y takings by site stacked", eleven).note())
                .isEqualTo("Rest: 3 smaller series together");
        assertThat(draw("areas t x day y takings by site stacked", eleven)).contains("Rest, 2026-05-01: 600");
    }

    /** What each kind tells under the pointer, value by value. */
    @Test
    void everyKindIsDrawnAndTellsItsValues() {
        Result sales = result(3, 4, "site ", 2);
        assertThat(tips(draw("lines t x day y takings by site", sales)))
                .contains("site 1, 2026-05-02: 210")
                .hasSize(9);
        assertThat(tips(draw("areas t x day y takings by site", sales))).contains("site 2, 2026-05-04: 330");
        assertThat(tips(draw("columns t x site y takings by day", sales)))
                .contains("site 0, 2026-05-01: 100")
                .hasSize(9);
        assertThat(tips(draw("bars t x site y takings by day stacked", sales))).contains("site 2, 2026-05-02: 310");
        assertThat(tips(draw("points t x takings y takings by site log", sales)))
                .contains("site 0, 130: 130")
                .hasSize(9);
        assertThat(tips(draw("histogram t x takings bins 3", sales)))
                .containsExactly("100 to 176.666667: 3", "176.666667 to 253.333333: 3", "253.333333 to 330: 3");
        assertThat(tips(draw("boxes t x site y takings", sales)))
                .contains("site 1: median 210, half between 205 and 220")
                .hasSize(3);
        assertThat(tips(draw("heat t x day y takings by site", sales)))
                .contains("2026-05-01, site 2: 300")
                .hasSize(9);
    }

    @Test
    void seriesAreNamedWhereTheyEnd() {
        Result sales = result(3, 5, "site ", null);
        String svg = draw("lines t x day y takings by site", sales);
        assertThat(xOf(svg, "site 0")).isEqualTo(xOf(svg, "site 2")).isGreaterThan(800);
        assertThat(yOf(svg, "site 0")).isGreaterThan(yOf(svg, "site 1"));
        assertThat(yOf(svg, "site 1")).isGreaterThan(yOf(svg, "site 2"));
        assertThat(xOf(draw("columns t x day y takings by site", sales), "site 2"))
                .isLessThan(400);
        String stacked = draw("areas t x day y takings by site stacked", sales);
        assertThat(yOf(stacked, "site 0")).isGreaterThan(yOf(stacked, "site 1"));
        String level = draw("lines t x day y takings by site", result(8, 1, "x", null));
        for (int s = 1; s < 8; s++) {
            assertThat(yOf(level, "x" + (s - 1)) - yOf(level, "x" + s)).isGreaterThanOrEqualTo(12);
        }
        String longNames = draw("lines t x day y takings by site", result(2, 5, "a site with a very long name ", null));
        assertThat(xOf(longNames, "a site with a very long name 0")).isLessThan(400);
    }

    private static double xOf(String svg, String text) {
        return Double.parseDouble(place(svg, text, "x"));
    }

    private static double yOf(String svg, String text) {
        return Double.parseDouble(place(svg, text, "y"));
    }

    private static String place(String svg, String text, String axis) {
        java.util.regex.Matcher found =
                Pattern.compile("<text\\b([^>]*)>" + Pattern.quote(text) + "<").matcher(svg);
        assertThat(found.find()).as(text).isTrue();
        java.util.regex.Matcher at =
                Pattern.compile("\\b" + axis + "=\"([^\"]*)\"").matcher(found.group(1));
        assertThat(at.find()).isTrue();
        return at.group(1);
    }

    @Test
    void areasStandOnOneAnotherWithoutGaps() {
        Result sales = result(3, 5, "site ", 2);
        String svg = draw("areas t x day y takings by site stacked", sales);
        assertThat(count(svg, "<path [^>]*fill:var\\(--series-[123]\\)|<path [^>]*stroke=\"none\""))
                .as("one shape for each")
                .isLessThanOrEqualTo(6);
        assertThatThrownBy(() -> draw(
                        "areas t x day y takings by site stacked",
                        record(new Point(LocalDate.of(2026, 5, 1), "Quay", new BigDecimal("-3.50")))))
                .hasMessage(
                        "Areas stand on one another only where no value is negative; 'Quay' has -3.50 at 2026-05-01.");
    }

    private static Result record(Point point) {
        try (Fiesta fiesta = Fiesta.open()) {
            return fiesta.records(Point.class, List.of(point)).run();
        }
    }

    @Test
    void smallChartsHaveTheSameAxesAndColours() {
        Result sales = result(5, 4, "site ", null);
        String svg = draw("lines t x day y takings apart site", sales);
        assertThat(svg).contains("viewBox=\"0 0 920 508\"");
        for (int s = 0; s < 5; s++) {
            assertThat(svg).containsOnlyOnce(">site " + s + "<");
        }
        assertThat(count(svg, ">takings<")).isEqualTo(1);
        assertThat(count(svg, ">400<")).as("all have the ticks of the greatest").isEqualTo(5);
        assertThat(tips(svg)).hasSize(20).contains("2026-05-04: 530");
        assertThat(drawn("lines t x day y takings apart day", result(2, 30, "s", null))
                        .note())
                .isEqualTo("the first 24 of 30 charts");
    }

    @Test
    void valuesAndLinesAreWritten() {
        Result sales = result(3, 1, "site ", null);
        assertThat(draw("bars t x site y takings values", sales)).contains(">100<", ">200<", ">300<");
        assertThat(draw("bars t x site y takings", sales)).doesNotContain(">300<".repeat(2));
        ChartSheet lined = Charts.of(
                piece("lines t x day y takings by site"),
                result(3, 5, "site ", null),
                LocaleStyle.of("en-IE"),
                List.of(
                        new Charts.Line("Target", new BigDecimal("900")),
                        new Charts.Line("Opening", LocalDate.of(2026, 5, 3))));
        String svg = ChartImage.forPage(lined, "c", "T");
        assertThat(svg).contains(">Target<", ">Opening<", ">800<");
        assertThatThrownBy(() -> Charts.of(
                        piece("bars t x site y takings"),
                        sales,
                        LocaleStyle.of("en-IE"),
                        List.of(new Charts.Line("Opening", LocalDate.of(2026, 5, 3)))))
                .hasMessage(
                        "The line 'Opening' stands at 2026-05-03, for which the chart 'bars' of 'records' has no axis.");
    }

    record Anything(
            LocalDate day,
            java.time.LocalDateTime time,
            String site,
            String kind,
            Long n,
            BigDecimal amount,
            Double real) {}

    /** Whatever is asked of whatever there is, is drawn for every width, or refused in a sentence. */
    @Test
    void anyChartOfAnyTableIsDrawnOrRefused() {
        List<String> kinds = List.of("lines", "areas", "columns", "bars", "points", "histogram", "boxes", "heat");
        List<String> fields = List.of("day", "time", "site", "kind", "n", "amount", "real");
        int drawn = 0;
        for (long seed = 0; seed < CHARTS; seed++) {
            java.util.SplittableRandom random = new java.util.SplittableRandom(seed);
            Result table = anything(random);
            String kind = kinds.get(random.nextInt(kinds.size()));
            String chart = kind + " t x " + fields.get(random.nextInt(fields.size()))
                    + (kind.equals("histogram") ? "" : " y " + fields.get(4 + random.nextInt(3)))
                    + (random.nextInt(2) == 0 ? "" : " by " + fields.get(random.nextInt(fields.size())))
                    + (random.nextInt(3) > 0 ? "" : " apart " + fields.get(random.nextInt(fields.size())))
                    + (random.nextInt(3) > 0 ? "" : " log")
                    + (random.nextInt(3) > 0 ? "" : " stacked")
                    + (random.nextInt(3) > 0 ? "" : " values")
                    + (random.nextInt(3) > 0 ? "" : " bins " + (1 + random.nextInt(5)));
            List<Charts.Line> lines = random.nextInt(3) > 0
                    ? List.of()
                    : List.of(new Charts.Line(
                            "a line",
                            random.nextBoolean()
                                    ? LocalDate.of(2026, 1, 1)
                                    : new BigDecimal(random.nextInt(-900, 900))));
            try {
                ChartSheet sheet = Charts.of(piece(chart), table, LocaleStyle.of("de-DE"), lines);
                String both = ChartImage.forPage(sheet, "c", "T") + ChartImage.forPaper(sheet, "T", false);
                int nowhere = both.indexOf("NaN");
                assertThat(nowhere < 0 ? "" : both.substring(Math.max(0, nowhere - 200), nowhere + 20))
                        .as("seed " + seed + ": " + chart + ", " + table.rows() + " rows")
                        .isEmpty();
                assertThat(both).contains("<svg width=\"660\"");
                drawn++;
            } catch (dev.fiesta.problem.RequestException e) {
                assertThat(e.getMessage()).as(chart).endsWith(".");
            } catch (RuntimeException e) {
                throw new AssertionError("seed " + seed + ": " + chart + ", " + table.rows() + " rows", e);
            }
        }
        assertThat(drawn).isGreaterThan(CHARTS / 2);
    }

    private static Result anything(java.util.SplittableRandom random) {
        List<Anything> rows = new ArrayList<>();
        boolean zero = random.nextInt(5) == 0;
        for (int i = random.nextInt(4) == 0 ? random.nextInt(2) : random.nextInt(40); i > 0; i--) {
            boolean gap = random.nextInt(6) == 0;
            rows.add(new Anything(
                    gap ? null : LocalDate.of(2026, 5, 1).plusDays(random.nextInt(200)),
                    random.nextInt(6) == 0
                            ? null
                            : java.time.LocalDateTime.of(2026, 5, 1, 0, 0).plusMinutes(random.nextInt(90_000)),
                    random.nextInt(6) == 0 ? null : "Site " + random.nextInt(12) + "x".repeat(random.nextInt(30)),
                    random.nextInt(6) == 0 ? null : "<kind> " + random.nextInt(3),
                    random.nextInt(6) == 0 ? null : zero ? 0 : random.nextLong(-5, 2_000_000_000_000L),
                    random.nextInt(6) == 0 ? null : BigDecimal.valueOf(zero ? 0 : random.nextInt(-90_000, 90_000), 2),
                    random.nextInt(6) == 0
                            ? null
                            : zero ? 0.0 : random.nextDouble() * Math.pow(10, random.nextInt(-8, 12))));
        }
        try (Fiesta fiesta = Fiesta.open()) {
            return fiesta.records(Anything.class, rows).run();
        }
    }

    /** For a width, which of 28 days are written below their bars. */
    private static List<Integer> written(double width) {
        DefaultCategoryDataset bars = new DefaultCategoryDataset();
        for (int day = 1; day <= 28; day++) {
            bars.addValue(day, "takings", day + " May");
        }
        PeriodAxis axis = new PeriodAxis();
        axis.setCategoryLabelPositions(CategoryLabelPositions.UP_45);
        axis.setPlot(new CategoryPlot(bars, axis, new NumberAxis(), new BarRenderer()));
        Graphics2D graphics = new BufferedImage(10, 10, BufferedImage.TYPE_INT_RGB).createGraphics();
        Rectangle2D area = new Rectangle2D.Double(0, 0, width, 200);
        List<CategoryTick> ticks = axis.refreshTicks(graphics, new AxisState(), area, RectangleEdge.BOTTOM);
        return IntStream.range(0, ticks.size())
                .filter(i -> !ticks.get(i).getLabel().getLines().isEmpty())
                .boxed()
                .toList();
    }

    @Test
    void daysSideBySideAreWrittenAsFarAsTheyHaveRoom() {
        assertThat(written(840)).hasSize(28);
        assertThat(written(330)).startsWith(0, 2, 4).hasSize(14);
        assertThat(written(100)).startsWith(0, 5).hasSize(6);
    }

    @Test
    void narrowPagesHaveTheirOwnDrawing() {
        String both = ChartImage.forPage(drawn("lines t x day y takings", result(1, 9, "s", null)), "c1", "T");
        assertThat(both)
                .contains("<div class=\"broad\"><svg", "<div class=\"slim\"><svg", "viewBox=\"0 0 400 320\"")
                .contains("id=\"c1-slim-");
    }

    private static List<String> tips(String svg) {
        return Pattern.compile("<title\\s*>([^<]*)</title\\s*>")
                .matcher(svg)
                .results()
                .map(m -> m.group(1))
                .toList();
    }

    @Test
    void picturesAndFilesOfTheirOwn() {
        ChartSheet drawn = drawn("lines t x day y takings by site", result(2, 5, "site ", null));
        assertThat(ChartImage.file(drawn, "A & B"))
                .startsWith("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg ")
                .contains("aria-label=\"A &amp; B\"", "fill=\"white\"", "width=\"920\"", ">A &amp; B<")
                .doesNotContain("var(--");
        assertThat(ChartImage.png(drawn, "A & B"))
                .startsWith(0x89, 'P', 'N', 'G')
                .hasSizeGreaterThan(5000);
    }

    @Test
    void aMissingValueLeavesAGap() {
        String whole = draw("lines t x day y takings", result(1, 7, "s", null));
        String gap = draw("lines t x day y takings", result(1, 7, "s", 3));
        Pattern moves = Pattern.compile("<path d=\"([^\"]*)\" style=\"clip-path:url\\(#c1-clipPath\\d+\\)");
        long movesOfWhole = moves.matcher(whole)
                .results()
                .mapToLong(m -> count(m.group(1), "M"))
                .max()
                .orElse(0);
        long movesOfGap = moves.matcher(gap)
                .results()
                .mapToLong(m -> count(m.group(1), "M"))
                .max()
                .orElse(0);
        assertThat(movesOfWhole).isEqualTo(1);
        assertThat(movesOfGap).as("the line is begun again behind the gap").isEqualTo(2);
    }

    @Test
    void barsStandInTheOrderOfTheTable() {
        String svg = draw("bars t x site y takings", result(4, 1, "stall ", null));
        assertThat(svg.indexOf("stall 0")).isLessThan(svg.indexOf("stall 3"));
        assertThat(svg).contains("var(--series-1)").contains(">0<");
    }

    @Test
    void namesFromDataAreEscaped() {
        String svg = draw("bars t x site y takings", result(1, 1, "<b onload='x'>&", null));
        assertThat(svg).doesNotContain("<b onload").contains("&lt;b onload=");
    }

    @Test
    void theSameDataIsDrawnInTheSameBytes() {
        Result result = result(5, 9, "site ", 2);
        assertThat(draw("lines t x day y takings by site", result))
                .isEqualTo(draw("lines t x day y takings by site", result));
        assertThat(draw("lines t x day y takings", result)).contains("id=\"c1-").contains("url(#c1-");
    }

    @Test
    void whatCannotBeDrawnIsExplained() {
        Result result = result(1, 1, "s", null);
        assertThatThrownBy(() -> draw("bars t x day y site", result))
                .hasMessage("The field 'site' holds no numbers, so it cannot be drawn along an axis.");
        assertThatThrownBy(() -> draw("heat t x day y takings", result))
                .hasMessage("The chart 'heat' shows two keys and a figure: x FIELD y FIGURE by FIELD.");
        assertThatThrownBy(() -> draw("heat t x day y takings by site apart site", result))
                .hasMessage("The chart 'heat' of 'records' is not parted by 'apart': it has two keys as it is.");
    }
}
