package dev.fiesta.report;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.language.Printer;
import dev.fiesta.survey.FieldSurvey;
import dev.fiesta.survey.FieldSurvey.Oddity;
import dev.fiesta.survey.Survey;
import dev.fiesta.survey.WayOut;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Currency;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A first brief for an input, to be changed: its fields with their types, a table by the field that groups best, one by time,
 * and a report of both.
 */
public final class Draft {
    private static final int FEW_GROUPS = 20;
    private static final int MOST_GROUPS = 60;
    private static final int FEWEST_AMOUNTS = 12;
    private static final int LONG_COMMENT = 60;

    private final String name;
    private final List<String> paths;
    private final String told;
    private final Survey asRead;
    private final Survey survey;

    private Draft(String name, List<String> paths, String told, Survey asRead, Survey survey) {
        this.told = told;
        this.name = name;
        this.paths = paths;
        this.asRead = asRead;
        this.survey = survey;
    }

    /**
     * A draft for files.
     *
     * @param name what the input is to be called
     * @param paths of its files, as the brief names them
     * @param told options of the input that were told, as a brief has them; they stand in the draft too
     * @param surveyed surveys the input read with options behind those; it is asked twice, first without any and then
     *     with those that put its types right
     * @return the draft
     */
    public static Draft of(String name, List<String> paths, String told, Function<String, Survey> surveyed) {
        Survey asRead = surveyed.apply("");
        Draft first = new Draft(name, paths, told, asRead, asRead);
        return new Draft(name, paths, told, asRead, surveyed.apply(first.options() + first.fields()));
    }

    /** The lines that declare the fields of a survey; what is odd stands beside them. */
    static String fields(Survey survey) {
        return new Draft("", List.of(), "", survey, survey).fields();
    }

    /** {@return the brief} */
    public String text() {
        StringBuilder text = new StringBuilder();
        Optional<FieldSurvey> group = group();
        Optional<FieldSurvey> amount = amount();
        Optional<FieldSurvey> time = time();
        String figures = "records = count()"
                + amount.map(a -> ", total = sum(" + quoted(a) + "), typical = median(" + quoted(a) + ")")
                        .orElse("");
        String best = amount.isPresent() ? "total" : "records";
        text.append("brief ").append(Printer.text(title(group))).append("\n\n");
        asRead.fields().stream()
                .flatMap(f -> f.oddities().stream())
                .map(o -> o.way() instanceof WayOut.Declared declared ? declared.language() : null)
                .filter(Objects::nonNull)
                .findFirst()
                .ifPresent(l ->
                        text.append("settings locale ").append(Printer.text(l)).append("\n\n"));
        text.append("input ").append(input()).append(" from");
        paths.forEach(p -> text.append(' ').append(Printer.text(p)));
        text.append('\n')
                .append(told.isBlank() ? "" : "  " + told.strip() + "\n")
                .append(options())
                .append(fields());
        List<String> shown = new ArrayList<>();
        StringBuilder pieces = new StringBuilder();
        group.ifPresent(g -> {
            String table = g.name().matches("\\w+") ? "by_" + g.name() : "by_group";
            text.append("\ntable ")
                    .append(table)
                    .append(" from ")
                    .append(input())
                    .append('\n');
            text.append("  per    ").append(quoted(g)).append('\n');
            text.append("  give   ").append(figures).append('\n');
            text.append("  sort   ").append(best).append(" desc\n");
            text.append("  totals\n");
            shown.add(table);
            pieces.append("  table   ")
                    .append(table)
                    .append(' ')
                    .append(Printer.text("By " + g.name()))
                    .append('\n');
            pieces.append("  chart   bars ")
                    .append(table)
                    .append(" x ")
                    .append(quoted(g))
                    .append(" y ")
                    .append(best)
                    .append('\n');
        });
        time.ifPresent(t -> {
            String step = step(t);
            text.append("\ntable by_")
                    .append(step)
                    .append(" from ")
                    .append(input())
                    .append('\n');
            text.append(t.missing() == 0 ? "" : "  only   not " + quoted(t) + " is missing\n");
            text.append("  per    ")
                    .append(step)
                    .append(" = ")
                    .append(start(t, step))
                    .append('\n');
            text.append("  give   ").append(figures).append('\n');
            text.append("  gapless ")
                    .append(step)
                    .append(step.equals("day") ? " every 1 day" : "")
                    .append(" with 0\n");
            shown.add("by_" + step);
            pieces.append("  table   by_")
                    .append(step)
                    .append(" 'By ")
                    .append(step)
                    .append("'\n");
            pieces.append("  chart   lines by_")
                    .append(step)
                    .append(" x ")
                    .append(step)
                    .append(" y ")
                    .append(best)
                    .append('\n');
        });
        if (shown.isEmpty()) {
            text.append("\ntable all_records from ").append(input()).append('\n');
            text.append("  per    all\n  give   ").append(figures).append('\n');
            pieces.append("  table   all_records 'All records'\n");
        }
        text.append("\nreport\n  heading ")
                .append(Printer.text(title(group)))
                .append('\n')
                .append(pieces);
        return Parser.layOut(new BriefText("draft", text.toString()));
    }

    private String title(Optional<FieldSurvey> group) {
        String whole = group.map(g -> name + " by " + g.name()).orElse(name);
        return whole.substring(0, 1).toUpperCase(Locale.ROOT) + whole.substring(1);
    }

    private String input() {
        return quoted(name);
    }

    /** What the input needs besides its fields. */
    private String options() {
        StringBuilder text = new StringBuilder();
        List<String> words = new ArrayList<>();
        boolean comma = hasCommas();
        for (FieldSurvey field : asRead.fields()) {
            for (Oddity oddity : field.oddities()) {
                if (oddity.way() instanceof WayOut.Missing missing) {
                    missing.words().stream().filter(w -> !words.contains(w)).forEach(words::add);
                }
            }
        }
        text.append(words.isEmpty() ? "" : "  " + new WayOut.Missing(words).text() + "\n");
        if (asRead.unreadable() > 0) {
            boolean many = asRead.unreadable() * 9L > asRead.records();
            text.append("  unreadable aside")
                    .append(many ? " at most " + asRead.unreadable() : "")
                    .append('\n');
        }
        text.append(comma ? "  decimal comma\n" : "");
        return text.append(hasBrackets() ? "  brackets negative\n" : "").toString();
    }

    /** Whether numbers have decimal commas, and none has a point, which would then part thousands. */
    private boolean hasCommas() {
        boolean points = asRead.fields().stream()
                        .anyMatch(f -> f.type().scale() > 0 || f.type().kind() == Kind.REAL)
                || written()
                        .anyMatch(d -> !hasComma(d)
                                && (d.type().scale() > 0
                                        || d.openScale()
                                        || d.type().equals(Type.REAL)));
        return !points
                && (written().anyMatch(Draft::hasComma)
                        || asRead.fields().stream()
                                .flatMap(f -> f.oddities().stream())
                                .anyMatch(o -> o.way() == WayOut.Option.DECIMAL_COMMA));
    }

    private static boolean hasComma(WayOut.Declared number) {
        return number.input().contains(WayOut.Option.DECIMAL_COMMA);
    }

    /** Whether numbers in brackets are negative, in one of the fields. */
    private boolean hasBrackets() {
        return asRead.fields().stream()
                .flatMap(f -> number(f).stream())
                .anyMatch(d -> d.input().contains(WayOut.Option.BRACKETS_NEGATIVE));
    }

    /** How fields are declared that hold numbers as people write them. */
    private Stream<WayOut.Declared> written() {
        return asRead.fields().stream().flatMap(Draft::written);
    }

    private static Stream<WayOut.Declared> written(FieldSurvey field) {
        return field.oddities().stream()
                .filter(o -> o.kind() == Oddity.Kind.NUMBERS_AS_TEXT)
                .map(Oddity::way)
                .filter(way -> way instanceof WayOut.Declared declared && !declared.badAsMissing())
                .map(WayOut.Declared.class::cast)
                .filter(d -> d.without().stream().allMatch(Draft::isOfMoney));
    }

    /** Signs, and letters where they name a currency: others may be a part of a code. */
    private static boolean isOfMoney(String unit) {
        return unit.chars().noneMatch(Character::isLetter)
                || Currency.getAvailableCurrencies().stream()
                        .anyMatch(c -> c.getCurrencyCode().equals(unit));
    }

    /** The same, where it goes together with what holds for all fields. */
    private Optional<WayOut.Declared> number(FieldSurvey field) {
        return written(field)
                .filter(d -> hasComma(d) == hasCommas() || d.type().equals(Type.decimal(0)))
                .findFirst();
    }

    private String fields() {
        List<FieldSurvey> fields = asRead.fields();
        StringBuilder text = new StringBuilder();
        int longest = fields.stream().mapToInt(f -> quoted(f).length()).max().orElse(0);
        for (int i = 0; i < fields.size(); i++) {
            FieldSurvey field = fields.get(i);
            String declared = String.format("%-" + Math.max(1, longest) + "s %s", quoted(field), type(field));
            String line = (i == 0 ? "  fields " : "         ") + declared + (i + 1 < fields.size() ? "," : "");
            String comment = comment(field);
            text.append(comment.isEmpty() ? line : String.format("%-52s # %s", line, comment))
                    .append('\n');
        }
        return text.toString();
    }

    private String type(FieldSurvey field) {
        for (Oddity oddity : field.oddities()) {
            // Names of months are read by the locale of a brief, which a survey has not.
            boolean named = oddity.kind() == Oddity.Kind.NAMED_DATES && survey != asRead;
            boolean all = oddity.kind() == Oddity.Kind.DATES_AS_TEXT || named;
            if (oddity.way() instanceof WayOut.Declared declared
                    && (oddity.kind() == Oddity.Kind.BAD_VALUES || all && !declared.badAsMissing())) {
                return declared.form();
            }
            if (oddity.way() == WayOut.Option.DECIMAL_COMMA && hasCommas()) {
                return "decimal";
            }
        }
        Optional<WayOut.Declared> number = number(field);
        if (number.isPresent()) {
            return number.get().form();
        }
        return field.type().kind() == Kind.EMPTY ? "text" : field.type().toString();
    }

    private static String comment(FieldSurvey field) {
        List<String> parts = field.oddities().stream().map(Oddity::text).toList();
        String comment = String.join("; ", parts);
        return comment.length() > LONG_COMMENT ? comment.substring(0, LONG_COMMENT - 1) + "…" : comment;
    }

    private static boolean isOdd(FieldSurvey field, Oddity.Kind kind) {
        return field.oddities().stream().anyMatch(o -> o.kind() == kind);
    }

    private Optional<FieldSurvey> first(Predicate<FieldSurvey> wanted) {
        return survey.fields().stream().filter(wanted).findFirst();
    }

    /** The first text with a few values that is there in most records. */
    private Optional<FieldSurvey> group() {
        List<FieldSurvey> fit = survey.fields().stream()
                .filter(f -> f.type().kind() == Kind.TEXT && f.exact() && f.distinct() >= 2)
                .filter(f -> f.distinct() <= MOST_GROUPS && f.distinct() * 2 < survey.records())
                .filter(f -> !isOdd(f, Oddity.Kind.DATES_AS_TEXT) && !isOdd(f, Oddity.Kind.NUMBERS_AS_TEXT))
                .toList();
        return fit.stream()
                .filter(f -> f.distinct() >= 3 && f.distinct() <= FEW_GROUPS && f.missing() * 5 < survey.records())
                .findFirst()
                .or(() -> fit.stream().min(Comparator.comparingLong(FieldSurvey::missing)));
    }

    /** Money stands in decimals; else a number that is neither a key nor a mere kind. */
    private Optional<FieldSurvey> amount() {
        return first(f -> f.type().kind() == Kind.DECIMAL && f.distinct() >= 2)
                .or(() -> first(f ->
                        f.type().isNumeric() && f.distinct() >= FEWEST_AMOUNTS && !isOdd(f, Oddity.Kind.LIKELY_KEY)));
    }

    private Optional<FieldSurvey> time() {
        return first(f -> (f.type().kind() == Kind.DATE || f.type().kind() == Kind.DATETIME) && f.distinct() >= 2);
    }

    private static String step(FieldSurvey time) {
        long days = ChronoUnit.DAYS.between(day(time.least()), day(time.greatest()));
        return days > 400 ? "month" : days > 45 ? "week" : "day";
    }

    private static LocalDate day(@Nullable Object value) {
        return value instanceof LocalDateTime dateTime
                ? dateTime.toLocalDate()
                : Objects.requireNonNull((LocalDate) value);
    }

    private static String start(FieldSurvey time, String step) {
        String field = quoted(time);
        return step.equals("day")
                ? time.type().kind() == Kind.DATE ? field : "date(" + field + ")"
                : "start_of_" + step + "(" + field + ")";
    }

    private static String quoted(FieldSurvey field) {
        return quoted(field.name());
    }

    private static String quoted(String name) {
        return Printer.name(name);
    }
}
