package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.report.text.Words;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The report's own words, in every language that there are some in. */
class WordsInLanguagesTest {
    /** Words that are the same in English. */
    private static final Map<String, Set<String>> SAME = Map.of(
            "de", Set.of("parameter"),
            "es", Set.of("total", "no"),
            "fr", Set.of("total"),
            "it", Set.of("no", "percent", "record"),
            "nl", Set.of("percent", "records", "record"),
            "pl", Set.of("percent"),
            "pt", Set.of("total", "percent"));

    @TempDir
    Path folder;

    @Test
    void everyLanguageHasAllWordsAndItsOwn() {
        Map<String, String> english = Words.of("en-IE").all();
        for (String language : Words.LANGUAGES) {
            Map<String, String> words = Words.of(language + "-XX").all();
            assertThat(words.keySet()).as(language).isEqualTo(english.keySet());
            words.forEach((key, word) -> assertThat(places(word))
                    .as(language + " " + key)
                    .isEqualTo(places(Objects.requireNonNull(english.get(key)))));
            if (!language.equals("en")) {
                Set<String> same = words.entrySet().stream()
                        .filter(e -> e.getValue().equals(english.get(e.getKey())))
                        .map(Map.Entry::getKey)
                        .collect(Collectors.toCollection(TreeSet::new));
                assertThat(same).as(language).isEqualTo(new TreeSet<>(SAME.get(language)));
            }
        }
    }

    private static Set<String> places(String word) {
        return Pattern.compile("\\{\\d}")
                .matcher(word)
                .results()
                .map(m -> m.group())
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private Report report(String locale) throws IOException {
        StringBuilder sales = new StringBuilder("site,method,amount\n");
        for (int i = 0; i < 30; i++) {
            sales.append(i % 5 == 4 ? "" : "Site " + i % 5)
                    .append(i % 7 == 6 ? "," : i % 2 == 0 ? ",card" : ",cash")
                    .append(",")
                    .append(i * 100)
                    .append(".50\n");
        }
        Files.writeString(folder.resolve("sales.csv"), sales);
        String brief = "settings locale '" + locale + "'\ninput sales from 'sales.csv'\n"
                + "table by_site from sales per site, method give takings = sum(amount), part = share(amount), big = any(amount > 100) "
                + "totals by site columns site, method, takings thousands, part percent 1, big\n"
                + "table crossed from sales per site against method give takings = sum(amount) totals\n"
                + "report table by_site rows 3 table crossed chart bars by_site x site y takings by method";
        try (Fiesta fiesta = Fiesta.open()) {
            return Report.of(Brief.of("t.brief", brief, folder), fiesta);
        }
    }

    @Test
    void aGermanReportSpeaksGermanAndItsDataFilesDoNot() throws IOException {
        Report report = report("de-DE");
        StringWriter text = new StringWriter();
        report.print(new Terminal("de-DE", 100, 0, false), new PrintWriter(text, true));
        assertThat(text.toString())
                .contains(
                        "(fehlt)",
                        "Summe",
                        "Zeilen 1 bis 3 von ",
                        "takings Tausend",
                        "\u00a0%",
                        "ja",
                        "Diagramm auf der Seite")
                .doesNotContain("Total")
                .doesNotContain("(missing)");
        String html = report.text(Format.HTML);
        assertThat(html)
                .contains("Worauf dies beruht", "Eingabe sales", ": 30 Datensätze", "data-filter=\"Zeilen filtern\"")
                .contains(">Summe</th>", ">(fehlt)</th>")
                .doesNotContain(">Total<");
        Path csv = report.writeTo(folder.resolve("out"), Format.CSV).stream()
                .filter(f -> f.endsWith("crossed.csv"))
                .findFirst()
                .orElseThrow();
        assertThat(Files.readString(csv))
                .startsWith("site,card,cash,(missing),Total\n")
                .contains("\nTotal,");
        assertThat(report.text(Format.MARKDOWN)).contains("**Summe**", "| Summe |");
    }

    @Test
    void aLocaleWithoutWordsIsTold() throws IOException {
        assertThat(report("fi-FI").text(Format.HTML))
                .contains("There are no words for fi-FI: the report’s own are in English.", ">Total<");
        assertThat(report("en-GB").text(Format.HTML)).doesNotContain("There are no words");
    }
}
