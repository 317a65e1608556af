package dev.fiesta.survey;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dev.fiesta.Asking;
import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.DataException;
import dev.fiesta.survey.FieldSurvey.Frequent;
import dev.fiesta.survey.FieldSurvey.Oddity;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What a survey says of fields whose values are known. */
class SurveyTest {
    @TempDir
    Path folder;

    private static FieldSurvey field(String... cells) {
        String text = "x,n\n"
                + Stream.of(cells)
                        .map(c -> (c.contains(",") || c.startsWith(" ") ? '"' + c + '"' : c) + ",1\n")
                        .collect(Collectors.joining());
        return Asking.table(text).survey().fields().get(0);
    }

    private static List<List<Object>> told(FieldSurvey field) {
        return field.oddities().stream()
                .map(o -> List.<Object>of(o.kind(), o.text(), String.valueOf(o.suggestion())))
                .toList();
    }

    private static List<String> oddities(String... cells) {
        return field(cells).oddities().stream().map(Oddity::text).toList();
    }

    @Test
    void numbersAreDescribed() {
        FieldSurvey field = field("4", "1", "", "2.50", "2.50", "10");
        assertThat(field.type()).hasToString("decimal(2)");
        assertThat(field.missing()).isEqualTo(1);
        assertThat(field.distinct()).isEqualTo(4);
        assertThat(field.exact()).isTrue();
        assertThat(field.least()).isEqualTo(new BigDecimal("1.00"));
        assertThat(field.greatest()).isEqualTo(new BigDecimal("10.00"));
        assertThat(field.mean()).isEqualTo(4.0);
        assertThat(field.quartiles()).containsExactly(2.5, 2.5, 4.0);
        assertThat(field.frequent()).containsExactly(new Frequent(new BigDecimal("2.50"), 2));
        assertThat(field.histogram().counts().stream().mapToLong(n -> n).sum()).isEqualTo(5);
        assertThat(field.histogram().counts()).startsWith(1L).endsWith(1L);
    }

    @Test
    void otherTypesAreDescribed() {
        FieldSurvey dates = field("2026-05-03", "2026-05-01", "2026-05-01", "2026-05-09");
        assertThat(dates.quartiles())
                .containsExactly(LocalDate.of(2026, 5, 1), LocalDate.of(2026, 5, 1), LocalDate.of(2026, 5, 3));
        assertThat(dates.histogram().counts()).containsExactly(2L, 0L, 1L, 0L, 0L, 0L, 0L, 0L, 1L);
        assertThat(dates.mean()).isNull();
        FieldSurvey truths = field("true", "false", "true");
        assertThat(truths.least()).isEqualTo(false);
        assertThat(truths.frequent()).containsExactly(new Frequent(true, 2));
        assertThat(truths.histogram()).isNull();
        FieldSurvey texts = field("Quay", "Meadow", "Quay", "Old Town");
        assertThat(texts.least()).isEqualTo("Meadow");
        assertThat(texts.greatest()).isEqualTo("Quay");
        assertThat(texts.frequent()).containsExactly(new Frequent("Quay", 2));
        assertThat(field("", "").type()).hasToString("empty");
    }

    /** Held to plain loops over random columns, whatever the number of threads. */
    @ParameterizedTest
    @ValueSource(ints = {1, 2, 5})
    void countsAreThoseOfPlainLoops(int threads) {
        SplittableRandom random = new SplittableRandom(11);
        List<Long> numbers = new ArrayList<>();
        StringBuilder text = new StringBuilder("n,name\n");
        for (int i = 0; i < 50_000; i++) {
            Long n = random.nextInt(20) == 0 ? null : (long) random.nextInt(-500, 500) * random.nextInt(1, 40);
            numbers.add(n);
            text.append(n == null ? "" : n)
                    .append(",name ")
                    .append(random.nextInt(300))
                    .append('\n');
        }
        FieldSurvey field =
                Asking.table(text.toString(), threads).survey().fields().get(0);
        List<Long> there = numbers.stream().filter(Objects::nonNull).sorted().toList();
        assertThat(field.missing()).isEqualTo(50_000 - there.size());
        assertThat(field.distinct()).isEqualTo(there.stream().distinct().count());
        assertThat(field.least()).isEqualTo(there.get(0));
        assertThat(field.greatest()).isEqualTo(there.get(there.size() - 1));
        double mean = there.stream().mapToLong(n -> n).sum() / (double) there.size();
        assertThat(field.mean()).isEqualTo(mean);
        for (int q = 1; q <= 3; q++) {
            double at = (there.size() - 1) * q / 4.0;
            int below = (int) at;
            double expected = there.get(below)
                    + (there.get(Math.min(below + 1, there.size() - 1)) - there.get(below)) * (at - below);
            assertThat((Double) field.quartiles().get(q - 1)).isEqualTo(expected);
        }
    }

    /** More different values than can be held: told as estimates, near the truth, and the same whoever read what. */
    @Test
    void estimatesAreNearAndTheSameEachTime() throws IOException {
        StringBuilder text = new StringBuilder("id,code,kind\n");
        for (int i = 0; i < 400_000; i++) {
            text.append(i * 7L)
                    .append(",item number ")
                    .append(i / 2)
                    .append(",")
                    .append(i % 3 == 0 ? "a" : "b" + i)
                    .append('\n');
        }
        Path file = folder.resolve("many.csv");
        Files.writeString(file, text);
        Set<Survey> all = new HashSet<>();
        for (int threads = 1; threads <= 3; threads += 2) {
            try (Fiesta fiesta = Fiesta.with().threads(threads).open()) {
                all.add(fiesta.read(file).survey());
            }
        }
        assertThat(all).hasSize(1);
        List<FieldSurvey> fields = all.iterator().next().fields();
        FieldSurvey id = fields.get(0);
        assertThat(id.exact()).isFalse();
        assertThat((double) id.distinct()).isCloseTo(400_000, within(8_000.0));
        assertThat((Double) id.quartiles().get(1)).isCloseTo(1_400_000, within(30_000.0));
        assertThat(id.mean()).isEqualTo(7 * 399_999 / 2.0);
        assertThat(id.oddities())
                .extracting(Oddity::text)
                .containsExactly("nearly every value is different: it may be the key");
        assertThat((double) fields.get(1).distinct()).isCloseTo(200_000, within(6_000.0));
        assertThat(fields.get(1).oddities()).isEmpty();
        FieldSurvey kind = fields.get(2);
        assertThat(kind.frequent()).hasSize(1);
        assertThat(kind.frequent().get(0).value()).isEqualTo("a");
        assertThat((double) kind.frequent().get(0).count()).isCloseTo(133_334, within(4_000.0));
    }

    /** Money is proposed with its units, in the one way that reads all of it; where it may be read in two ways nothing is proposed. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "€ 3.50 | EUR 4 | fields x decimal(2) without 'EUR', '€'",
                "€ 33,17 | € 1.234,50 | fields x decimal(2) without '€' decimal comma",
                "33,17 € | 1 234,5 € | fields x decimal(2) without '€' decimal comma",
                "5 % | 12 % | fields x decimal(0) without '%'",
                "€ 1.234 | € 5 |",
                "€ 1,50 | € 1.50 |",
            })
    void moneyIsProposedInTheWayThatReadsIt(String one, String two, String suggestion) {
        List<Oddity> found = field(one, two, one, two, one).oddities();
        assertThat(found.get(0).text()).isEqualTo("all values are numbers with a unit beside them");
        assertThat(found.get(0).suggestion()).isEqualTo(suggestion);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "1.234,50 | (12,00) | -3,10 | fields x decimal(2) decimal comma brackets negative",
                "1.234,50 | 12,5- | € 5,20 | fields x decimal(2) without '€' decimal comma brackets negative",
                "(12.00) | 3.50 | 1,234.00 | fields x decimal(2) brackets negative",
                "12 | 7.25 | $ 3.50 | fields x decimal(2) without '$'",
            })
    void severalWaysOfWritingAreReadInOneForm(String one, String two, String three, String suggestion) {
        assertThat(told(field(one, two, three, one)))
                .containsExactly(List.of(
                        Oddity.Kind.NUMBERS_AS_TEXT, "all values are numbers, written in several ways", suggestion));
        String[] nearly = Stream.generate(() -> Stream.of(one, two, three))
                .limit(9)
                .flatMap(s -> s)
                .toArray(String[]::new);
        nearly[4] = "oops";
        assertThat(told(field(nearly)).get(0).get(1)).asString().startsWith("all values but 1 are numbers");
    }

    /** Whatever stands in a field: each way out that is proposed can be gone, and where it says so nothing is lost on it. */
    @Test
    void whatIsProposedReadsWhatItWasProposedFor() throws IOException {
        String[][] kinds = {
            {"12", "7", "-3", "1e3", "2.5E-2"},
            {"12", "1.25", "-0.5", "+4"},
            {"1,5", "2,25", "1.234,50", "-3,10", "1.000.000,00"},
            {"1,234", "12,345.50", "1,000", "-2,000"},
            {"€ 3.50", "€ 12.00", "EUR 4", "€ -1.25"},
            {"€ 3,50", "(€ 12,00)", "€ 1.234,00"},
            {"12 %", "3 %", "0,5 %"},
            {"(12.00)", "3.50", "(1.00)"},
            {"12.00-", "3.50", "1.00-"},
            {"1.234,50", "(12,00)", "-3,10", "12,5-", "€ 5,20", "0,00"},
            {"1.234", "5,20", "€ 7"},
            {"555 123 456", "030-12", "31.05.2026", "10.000.12"},
            {"31.05.2026", "1.6.2026", "02.06.2026"},
            {"2026-05-31", "31/05/2026", "05/31/2026"},
            {"2026-05-31 10:00", "2026-05-31T11:30:15", "2026-06-01 12:00"},
            {"3. März 2026", "12. Mai 2026"},
            {" Quay", "Quay", "quay ", "QUAY", "Quay\u00A0"},
            {"Café", "Cafe", "café-", "Old Town", "old  town"},
            {"yes", "No", "YES", "no"},
            {"007", "012", "113"}
        };
        String[] odd = {"", "n/a", "-", "oops", "0", "NULL", "   "};
        SplittableRandom random = new SplittableRandom(8);
        int gone = 0;
        for (int turn = 0; turn < 102; turn++) {
            String[] kind = kinds[turn % kinds.length];
            int strange = random.nextInt(4);
            StringBuilder text = new StringBuilder("x,n\n");
            for (int i = 0; i < 60; i++) {
                String usual = kind[random.nextInt(kind.length)];
                String cell = strange > 1 && random.nextInt(25) == 0
                        ? odd[random.nextInt(odd.length)]
                        : strange == 3 && random.nextInt(9) == 0 ? " " + usual + "  " : usual;
                text.append('"').append(cell).append("\",").append(i).append('\n');
            }
            Path file = Files.writeString(folder.resolve("odd.csv"), text);
            try (Fiesta fiesta = Fiesta.open()) {
                List<Oddity> oddities =
                        fiesta.read(file).survey().fields().get(0).oddities();
                String missing = oddities.stream()
                        .filter(o -> o.kind() == Oddity.Kind.MISSING_WORDS)
                        .map(o -> " " + o.suggestion())
                        .findFirst()
                        .orElse("");
                for (Oddity oddity : oddities) {
                    String way = String.valueOf(oddity.suggestion());
                    if (oddity.suggestion() == null || oddity.kind() == Oddity.Kind.MISSING_WORDS) {
                        continue;
                    }
                    boolean clause = way.startsWith("add ") || way.startsWith("check ");
                    String language = oddity.kind() == Oddity.Kind.NAMED_DATES ? "settings locale 'de'\n" : "";
                    String brief = language + "input s from 'odd.csv'" + missing + (clause ? "" : " " + way)
                            + "\ntable t from s" + (clause ? "\n  " + way : "");
                    String told = oddity + "\n" + brief + "\n" + text;
                    assertThatCode(() -> {
                                Result result = Brief.of("odd", brief, folder)
                                        .run(fiesta)
                                        .get("t");
                                if (!clause && !way.contains("bad as missing")) {
                                    assertThat(result.notices().list()).isEmpty();
                                }
                            })
                            .as(told)
                            .doesNotThrowAnyException();
                    gone++;
                }
            }
        }
        assertThat(gone).isGreaterThan(80);
    }

    @Test
    void textsThatAreNumbersAreFound() {
        assertThat(oddities("1,5", "2,25", "1.234,50", "n/a"))
                .containsExactly(
                        "'n/a' stands for missing values in 1 record, it seems",
                        "all values are numbers with a decimal comma");
        assertThat(oddities("€ 3.50", "€ 12.00", "EUR 4"))
                .containsExactly("all values are numbers with a unit beside them");
        assertThat(oddities("1,234", "12,345.50", "1,000"))
                .containsExactly("all values are numbers with their thousands set apart");
        assertThat(oddities("007", "012", "113"))
                .containsExactly("all values are digits with leading zeros: identifiers, kept as texts");
    }

    @ParameterizedTest(name = "{0}, {1}: {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "31/05/2026 | 01/06/2026 | all values are dates written dd/MM/yyyy | fields x date 'dd/MM/yyyy'",
                "05/31/2026 | 06/01/2026 | all values are dates written MM/dd/yyyy | fields x date 'MM/dd/yyyy'",
                "31.05.2026 | 01.06.2026 | all values are dates written dd.MM.yyyy | fields x date 'dd.MM.yyyy'",
                "2026/05/31 | 2026/06/01 | all values are dates written yyyy/MM/dd | fields x date 'yyyy/MM/dd'",
                "01/06/2026 | 02/06/2026 | all values are dates written dd/MM/yyyy, or MM/dd/yyyy: nothing tells day and month apart | fields x date 'dd/MM/yyyy'",
                "31/05/2026 18:30 | 01/06/2026 09:00 | all values are datetimes written dd/MM/yyyy HH:mm | fields x datetime 'dd/MM/yyyy HH:mm'"
            })
    void textsThatAreDatesAreFound(String one, String two, String said, String suggestion) {
        FieldSurvey field = field(one, two);
        assertThat(told(field)).containsExactly(List.of(Oddity.Kind.DATES_AS_TEXT, said, suggestion));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "3. März 2026 | 12. Mai 2026 | d. MMMM yyyy | German | de",
                "3 août 2026 | 12 mai 2026 | d MMMM yyyy | French | fr",
                "3 de maio de 2026 | 12 de junho de 2026 | d 'de' MMMM 'de' yyyy | Portuguese | pt",
                "3 ene 2026 | 12 ago 2026 | d MMM yyyy | Spanish | es"
            })
    void namesOfMonthsTellTheLanguage(String one, String two, String pattern, String spoken, String language) {
        assertThat(told(field(one, two)))
                .containsExactly(List.of(
                        Oddity.Kind.NAMED_DATES,
                        "all values are dates written " + pattern + " with names in " + spoken
                                + ", which a brief reads that says: settings locale '" + language + "'",
                        "fields x date " + dev.fiesta.language.Printer.text(pattern)));
    }

    @Test
    void nearlyAllValuesAreEnough() {
        String[] days = IntStream.rangeClosed(1, 30)
                .mapToObj(i -> i == 7 ? "the 7th" : String.format("%02d/05/2026", i))
                .toArray(String[]::new);
        assertThat(oddities(days))
                .containsExactly(
                        "every value is different: it may be the key", "all values but 1 are dates written dd/MM/yyyy");
        String[] half = IntStream.rangeClosed(1, 30)
                .mapToObj(i -> i % 2 == 0 ? "late" : String.format("%02d/05/2026", i))
                .toArray(String[]::new);
        assertThat(oddities(half)).isEmpty();
    }

    @Test
    void spellingsAndBlanksAreFound() {
        assertThat(oddities("Old Town", "old town", "Old Town", "Quay"))
                .containsExactly("one word in several spellings: 'Old Town' (2), 'old town' (1)");
        FieldSurvey mixed = field("Café", "Cafe", " Quay", "Quay");
        assertThat(told(mixed))
                .containsExactly(
                        List.of(Oddity.Kind.BLANKS, "blanks before or after the text in 1 record", "add x = trim(x)"),
                        List.of(
                                Oddity.Kind.SPELLINGS,
                                "2 words in several spellings: 'Quay' (1), ' Quay' (1); 'Cafe' (1), 'Café' (1)",
                                "add x = reword(x, ' Quay' as 'Quay', 'Café' as 'Cafe')"));
        assertThat(told(field(" Quay", " Quay", "Quay", "quay", "Old  Town ", "Old Town", "old town")))
                .extracting(oddity -> oddity.get(2))
                .as("nobody wants the blanks, be they ever so frequent")
                .containsExactly(
                        "add x = trim(x)",
                        "add x = reword(x, ' Quay' as 'Quay', 'quay' as 'Quay', 'old town' as 'Old Town', "
                                + "'Old  Town ' as 'Old Town')");
        assertThat(field("a", "A", "b", "B").oddities().get(0).suggestion()).isEqualTo("add x = lower(x)");
        assertThat(oddities("a", "A", "b", "B", "c", "C", "d", "D"))
                .containsExactly(
                        "4 words in several spellings, such as 'A' (1), 'a' (1); 'B' (1), 'b' (1); 'C' (1), 'c' (1)");
    }

    @Test
    void constantsKeysAndGapsAreFound() {
        assertThat(oddities("x", "x")).containsExactly("has the same value in every record");
        assertThat(oddities("", "")).containsExactly("has no value in any record");
        String[] ids = IntStream.range(0, 10).mapToObj(Integer::toString).toArray(String[]::new);
        assertThat(oddities(ids)).containsExactly("every value is different: it may be the key");
        ids[3] = "9";
        assertThat(oddities(ids)).isEmpty();
    }

    /** A value far behind what is looked at first does not stop a survey, as it would stop a run. */
    @Test
    void badValuesAreCounted() throws IOException {
        Path file = folder.resolve("late.csv");
        String line = "12," + "x".repeat(60) + "\n";
        StringBuilder text = new StringBuilder("n,note\n" + line.repeat(300_000));
        int at = text.indexOf("\n", text.length() / 2 + 300_000) + 1;
        text.insert(at, "many,y\nfew,z\n0.5,y\n");
        Files.writeString(file, text);
        try (Fiesta fiesta = Fiesta.open()) {
            assertThatThrownBy(() ->
                            fiesta.read(file).then("per all give s = sum(n)").run())
                    .isInstanceOf(DataException.class);
            FieldSurvey field = fiesta.read(file).survey().fields().get(0);
            assertThat(field.type()).hasToString("decimal(1)");
            assertThat(field.missing()).isEqualTo(2);
            assertThat(told(field))
                    .containsExactly(List.of(
                            Oddity.Kind.BAD_VALUES,
                            "2 values are not a decimal(1), unlike the others; counted as missing here",
                            "fields n decimal(1) bad as missing"));
        }
    }

    @Test
    void tablesWithClausesAreSurveyedAsTheyAre() {
        Survey survey = Asking.table("site,n\nQuay,1\nQuay,2\nMeadow,3\n")
                .per("site")
                .give("s = sum(n)")
                .survey();
        assertThat(survey.records()).isEqualTo(2);
        assertThat(survey.fields().get(1).mean()).isEqualTo(3.0);
    }

    @Test
    void optionsAreThoseOfABrief() throws IOException {
        Path file = folder.resolve("it's.csv");
        Files.writeString(file, "title\na;b\n1;2\n");
        try (Fiesta fiesta = Fiesta.open()) {
            assertThat(fiesta.read(List.of(file), "skip 1 delimiter ';' fields b text")
                            .survey()
                            .fields()
                            .get(1)
                            .type())
                    .hasToString("text");
            assertThatThrownBy(() -> fiesta.read(List.of(file), "skip many"))
                    .isInstanceOf(BriefException.class)
                    .hasMessageContaining("The number of lines to skip is expected here");
            assertThatThrownBy(() -> fiesta.read(List.of(file), "skip 1 table t from records"))
                    .hasMessageStartingWith("Only options of an input can be told here");
        }
    }

    @Test
    void linesThatAreNoRecordsAreCountedAndTheWayOutTold() throws IOException {
        Path file = folder.resolve("ragged.csv");
        StringBuilder text = new StringBuilder("a,b\n");
        for (int i = 0; i < 60_000; i++) {
            text.append(i == 59_000 ? "0.5" : i).append(i == 30_000 ? "\n" : ",2\n");
        }
        Files.writeString(file, text.append("\"open,1\n"));
        for (int threads = 1; threads <= 3; threads += 2) {
            try (Fiesta fiesta = Fiesta.with().threads(threads).open()) {
                Survey survey = fiesta.read(file).survey();
                assertThat(survey.records()).isEqualTo(59_999);
                assertThat(survey.unreadable()).isEqualTo(2);
                assertThat(survey.fields().get(0).type()).hasToString("decimal(1)");
                assertThat(survey.fields().get(0).missing()).isZero();
                assertThat(survey.remarks())
                        .containsExactly("2 lines are no records that can be read (" + file
                                + ", line 30002: this row has 1 cell, the header has 2). "
                                + "To set them aside instead of ending the run: unreadable aside");
            }
        }
        Files.writeString(file, "a,b\n1,2\n3\n4,5\n");
        try (Fiesta fiesta = Fiesta.open()) {
            assertThat(fiesta.read(file).survey().remarks().get(0)).endsWith("unreadable aside at most 1");
        }
    }

    @Test
    void aFileOfWhichMostLinesAreNoRecordsStopsASurvey() throws IOException {
        Path file = folder.resolve("ragged.csv");
        Files.writeString(file, "a,b\n1\n2\n3,4\n");
        try (Fiesta fiesta = Fiesta.open()) {
            assertThatThrownBy(() -> fiesta.read(file).survey())
                    .hasMessageContaining("ragged.csv, line 2: this row has 1 cell, the header has 2.");
        }
    }
}
