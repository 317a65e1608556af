package dev.fiesta.report;

import dev.fiesta.report.page.Pages;
import dev.fiesta.survey.FieldSurvey;
import dev.fiesta.survey.FieldSurvey.Frequent;
import dev.fiesta.survey.FieldSurvey.Oddity;
import dev.fiesta.survey.Survey;
import dev.fiesta.survey.WayOut;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.io.PrintWriter;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/**
 * A survey for reading: in characters, as a page, as JSON, and as the {@code fields} lines of a brief.
 *
 * <pre>{@code
 * new SurveyView("sales.csv", fiesta.read(Path.of("sales.csv")).survey()).print(100, false, out);
 * }</pre>
 */
public final class SurveyView {
    /** A fact of a field. */
    public record Fact(String name, String value) {}

    /** A frequent value; its width is its share of all records in hundredths. */
    public record Value(String text, String share, int width) {}

    /** An interval of a histogram; its height is its share of all records, the greatest of all fields being a hundred. */
    public record Bin(int height, String count) {}

    /** Something odd. */
    public record Odd(String id, String field, String text, String suggestion) {}

    /** A field, everything as text. */
    public record FieldView(
            String id,
            String name,
            String type,
            List<Fact> facts,
            List<Value> values,
            List<Bin> bins,
            List<String> ticks,
            String from,
            String to,
            List<Odd> oddities) {
        /** {@return the facts of the first line: what every field has} */
        public String missing() {
            return facts.get(0).value() + " missing";
        }

        /** {@return the other facts} */
        public List<Fact> further() {
            return facts.subList(1, facts.size());
        }
    }

    /** Heads what is odd in the fields. */
    public static final String WORTH_A_LOOK = "Worth a look";

    private static final int LONGEST = 40;
    private static final int MOST_WORTH = 12;

    private final String title;
    private final Survey survey;
    private final LocaleStyle locale = LocaleStyle.of(dev.fiesta.language.BriefTree.Settings.NORMAL.locale());

    /**
     * @param title what was surveyed
     * @param survey what was seen
     */
    public SurveyView(String title, Survey survey) {
        this.title = title;
        this.survey = survey;
    }

    private String count(long number) {
        return locale.number(Long.toString(number));
    }

    String title() {
        return title;
    }

    List<String> remarks() {
        return survey.remarks();
    }

    String lead() {
        int fields = survey.fields().size();
        return count(survey.records())
                + (survey.records() == 1 ? " record, " : " records, ")
                + fields
                + (fields == 1 ? " field" : " fields");
    }

    /** A value as it is read in a sentence. */
    private String shown(Object value, FieldSurvey field) {
        if (value instanceof Double number) {
            return rounded(
                    number, field.type().isExact() ? Math.max(1, field.type().scale()) : 3, field);
        }
        if (value instanceof LocalDateTime) {
            return Texts.of(value).replace('T', ' ').replaceFirst(":00$", "");
        }
        String text = value instanceof Number ? grouped(Texts.of(value), field) : Texts.of(value);
        String line = Texts.printable(text).replaceAll("\\s", " ");
        return line.length() > LONGEST ? line.substring(0, LONGEST - 1) + "…" : line;
    }

    /** Whole numbers of the size of years are read as such, and have no thousands. */
    private static boolean isYear(FieldSurvey field) {
        return field.least() instanceof Long least
                && field.greatest() instanceof Long greatest
                && least >= 1800
                && greatest < 2200;
    }

    private String grouped(String plain, FieldSurvey field) {
        return isYear(field) ? plain : locale.number(plain);
    }

    private String rounded(double number, int digits, FieldSurvey field) {
        BigDecimal rounded = new BigDecimal(number).setScale(digits, RoundingMode.HALF_EVEN);
        boolean whole = digits == 1 && rounded.stripTrailingZeros().scale() <= 0;
        return grouped((whole ? rounded.setScale(0, RoundingMode.HALF_EVEN) : rounded).toPlainString(), field);
    }

    private String share(long part) {
        if (survey.records() == 0) {
            return "0%";
        }
        BigDecimal percent = BigDecimal.valueOf(part)
                .movePointRight(2)
                .divide(BigDecimal.valueOf(survey.records()), 1, RoundingMode.HALF_EVEN);
        boolean tiny = percent.signum() == 0 && part > 0;
        return tiny ? "under 0.1%" : locale.number(percent.toPlainString()) + "%";
    }

    private List<Fact> facts(FieldSurvey field) {
        List<Fact> facts = new ArrayList<>();
        facts.add(new Fact(
                "missing",
                field.missing() == 0 ? "none" : count(field.missing()) + " (" + share(field.missing()) + ")"));
        if (field.distinct() > 0) {
            facts.add(new Fact("distinct", (field.exact() ? "" : "about ") + count(rounded(field))));
        }
        boolean allShown = field.quartiles().isEmpty() && field.frequent().size() == field.distinct();
        if (field.least() != null && field.greatest() != null && field.distinct() > 1 && !allShown) {
            String from = shown(field.least(), field);
            facts.add(new Fact("from … to", from + " … " + shown(field.greatest(), field)));
        }
        if (!field.quartiles().isEmpty() && field.distinct() > 2) {
            List<String> parts =
                    field.quartiles().stream().map(q -> shown(q, field)).toList();
            facts.add(new Fact(field.exact() ? "quartiles" : "quartiles, about", String.join(" · ", parts)));
        }
        if (field.mean() != null && field.distinct() > 1) {
            facts.add(new Fact(
                    "mean",
                    rounded(field.mean(), field.type().isExact() ? field.type().scale() + 1 : 3, field)));
        }
        return facts;
    }

    /** An estimate is told with three digits only. */
    private static long rounded(FieldSurvey field) {
        return field.exact()
                ? field.distinct()
                : new BigDecimal(field.distinct())
                        .round(new java.math.MathContext(3))
                        .longValue();
    }

    private List<Value> values(FieldSurvey field) {
        List<Value> values = new ArrayList<>();
        if (field.quartiles().isEmpty() || field.distinct() <= MOST_WORTH) {
            for (Frequent value : field.frequent()) {
                int width = (int) Math.ceil(100.0 * value.count() / Math.max(1, survey.records()));
                String text = shown(value.value(), field);
                values.add(new Value(text.isBlank() ? "(empty)" : text, share(value.count()), width));
            }
        }
        return values;
    }

    /** The most records in one interval of any field: all histograms stand on one scale. */
    private long fullest() {
        return survey.fields().stream()
                .filter(SurveyView::isSpread)
                .flatMap(f -> histogram(f).counts().stream())
                .mapToLong(n -> n)
                .max()
                .orElse(1);
    }

    private static FieldSurvey.Histogram histogram(FieldSurvey field) {
        return Objects.requireNonNull(field.histogram());
    }

    private static boolean isSpread(FieldSurvey field) {
        return field.histogram() != null && field.distinct() > 2;
    }

    /** Where quartiles stand between the ends of a histogram, in hundredths with a digit. */
    private static List<String> ticks(FieldSurvey field) {
        List<String> ticks = new ArrayList<>();
        if (isSpread(field)) {
            double from = place(histogram(field).least());
            double width = place(histogram(field).greatest()) - from;
            for (Object quartile : field.quartiles()) {
                double at = width > 0 ? 100 * (place(quartile) - from) / width : 0;
                ticks.add(new BigDecimal(Math.max(0, Math.min(100, at)))
                        .setScale(1, RoundingMode.HALF_EVEN)
                        .toPlainString());
            }
        }
        return ticks;
    }

    private static double place(Object value) {
        if (value instanceof LocalDateTime time) {
            return time.toEpochSecond(java.time.ZoneOffset.UTC);
        }
        if (value instanceof java.time.LocalDate day) {
            return day.toEpochDay();
        }
        if (value instanceof java.time.Instant instant) {
            return instant.getEpochSecond();
        }
        return ((Number) value).doubleValue();
    }

    private List<Bin> bins(FieldSurvey field, long most) {
        List<Bin> bins = new ArrayList<>();
        if (isSpread(field)) {
            for (long n : histogram(field).counts()) {
                bins.add(new Bin((int) Math.ceil(100.0 * n / most), count(n) + " (" + share(n) + ")"));
            }
        }
        return bins;
    }

    List<FieldView> fields() {
        List<FieldView> fields = new ArrayList<>();
        List<Odd> oddities = oddities();
        long most = fullest();
        for (FieldSurvey field : survey.fields()) {
            boolean drawn = field.histogram() != null;
            String id = "field-" + (fields.size() + 1);
            fields.add(new FieldView(
                    id,
                    field.name(),
                    field.type().toString(),
                    facts(field),
                    values(field),
                    bins(field, most),
                    ticks(field),
                    drawn ? shown(histogram(field).least(), field) : "",
                    drawn ? shown(histogram(field).greatest(), field) : "",
                    oddities.stream().filter(o -> o.id().equals(id)).toList()));
        }
        return fields;
    }

    List<Odd> oddities() {
        List<Odd> odd = new ArrayList<>();
        int number = 0;
        for (FieldSurvey field : survey.fields()) {
            number++;
            for (Oddity oddity : field.oddities()) {
                String suggestion = oddity.way() == null ? "" : suggestion(field, oddity.way());
                odd.add(new Odd("field-" + number, field.name(), oddity.text(), suggestion));
            }
        }
        return odd;
    }

    /** A type is declared together with the words that stand for missing values, else those would not fit it. */
    private static String suggestion(FieldSurvey field, WayOut way) {
        boolean types = way instanceof WayOut.Declared || way instanceof WayOut.Option;
        String missing = field.oddities().stream()
                .map(Oddity::way)
                .filter(w -> types && w instanceof WayOut.Missing)
                .map(w -> w.text() + " ")
                .findFirst()
                .orElse("");
        return missing + way.text();
    }

    /**
     * Prints it in characters.
     *
     * @param width characters of a line
     * @param colour whether names are set off by terminal codes
     * @param out where they go
     */
    public void print(int width, boolean colour, PrintWriter out) {
        new SurveyText(this, width, colour).print(out);
    }

    /** {@return as one page that needs nothing else} */
    public String html() {
        return Pages.fill(
                "survey.html.peb",
                Map.of("title", title, "lead", lead(), "remarks", survey.remarks(), "fields", fields()));
    }

    /** {@return as JSON: values unformatted, times in ISO form} */
    public String json() {
        return Json.pretty(Json.of(survey));
    }

    /** {@return the {@code fields} lines of a brief, each field with what is odd about it as a comment} */
    public String fieldLines() {
        return Draft.fields(survey);
    }
}
