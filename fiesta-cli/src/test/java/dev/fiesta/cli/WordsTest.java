package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.catalogue.ClauseEntry;
import dev.fiesta.catalogue.ForeignWord;
import dev.fiesta.catalogue.WordEntry;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** One word, one thing: a word that means two things has its reason here, and words that are no longer used stand nowhere. */
class WordsTest {
    /** Why a word stands in several places. */
    private static final Map<String, String> REASONS = new TreeMap<>(Map.ofEntries(
            Map.entry("page", "one page: where a new one begins on paper, and the one that follows its brief"),
            Map.entry("all", "every one: of the rows of a partition, of the values of a condition"),
            Map.entry("as", "gives something its name or form, everywhere: labels, formats of files, other words"),
            Map.entry("along", "the order in which something walks, is kept, or stands in a copy"),
            Map.entry("at", "'at least', where a line of a chart stands, and where a check stands in the record"),
            Map.entry("bands", "numbers put into bands, and how a band is written"),
            Map.entry("behind", "the records behind a row: as a command, and on the page"),
            Map.entry("between", "two ends: of a condition, of the periods that are compared"),
            Map.entry("by", "one for each value: subtotals, series"),
            Map.entry("check", "something that must hold: in a table, of a whole brief, and as it is recorded"),
            Map.entry("columns", "upright bars are called so too; a chart's kind never stands where a clause does"),
            Map.entry("count", "the number of rows, given by a call and recorded"),
            Map.entry("database", "where a query is asked, and its name in the record"),
            Map.entry("date", "the type, what converts to it, and how it is written"),
            Map.entry("datetime", "the type and what converts to it"),
            Map.entry("day", "a span of time and the part of a date"),
            Map.entry("decimal", "the type, what converts to it, and the comma in it"),
            Map.entry("each", "one for each: figures, runs"),
            Map.entry("fields", "the fields of an input: declared, listed by a survey, recorded"),
            Map.entry("first", "the first rows, and the first value of a group"),
            Map.entry("format", "the layout of a brief as a command; formats of columns have names of their own"),
            Map.entry("from", "where something begins: a table, a column, a frame"),
            Map.entry("help", "explains, as a command and as an option of every command"),
            Map.entry("hour", "a span of time and the part of a time"),
            Map.entry("instant", "the type and what converts to it"),
            Map.entry("integer", "the type, what converts to it, and how it is written"),
            Map.entry("into", "where something goes: columns into rows, a query into parts, a table into a database"),
            Map.entry("items", "the list in a document whose items are records, and the item that was sold"),
            Map.entry("last", "the last rows of a frame, and the last value of a group"),
            Map.entry("least", "the smallest of several, in a call and in a frame"),
            Map.entry("line", "drawn across a chart, and where a clause stands in the record"),
            Map.entry("list", "several values at once: of a parameter, of a group"),
            Map.entry("log", "the logarithm, of a number and of an axis"),
            Map.entry("minute", "a span of time and the part of a time"),
            Map.entry("missing", "what is not there"),
            Map.entry("month", "a span of time and the part of a date"),
            Map.entry("name", "a field is read by its name; a thing's name in the record"),
            Map.entry("note", "what stands under a table or a chart, or at its cells"),
            Map.entry("only", "keeps rows, of a table or for one call"),
            Map.entry("or", "one or the other: conditions, patterns"),
            Map.entry("percent", "of a hundred: a part of the rows, a format"),
            Map.entry("quarter", "a span of time and the part of a date"),
            Map.entry("range", "from the least to the greatest: of values, of the cells of a sheet"),
            Map.entry("real", "the type and what converts to it"),
            Map.entry("replace", "puts one thing in the place of another: in a text, a table of a database"),
            Map.entry("rest", "all that was left out: made by a clause, opened by an option"),
            Map.entry("reword", "other words for values; its form has words inside its brackets"),
            Map.entry("rows", "rows: how many are shown, must be there, or are too short"),
            Map.entry("starts", "how a text begins, with which day a week"),
            Map.entry("table", "a table: defined, shown, chosen on the command line"),
            Map.entry("text", "the type, what converts to it, and how it is written"),
            Map.entry("to", "where something ends or goes: a frame, the characters of a field, a copy"),
            Map.entry("week", "a span of time and the part of a date"),
            Map.entry("year", "a span of time and the part of a date")));

    /** Words of earlier drafts, and where they may still be answered. */
    private static final Pattern OLD = Pattern.compile(
            "\\b(way_out|wayOut|made_missing_by|unfold|--reading|--guard|--no-tables|column_\\d)\\b|\\b(highest|lowest) \\d+ by\\b");

    private final Map<String, Set<String>> meanings = new TreeMap<>();

    private void note(String word, String where) {
        if (word.matches("[a-z_]+")) {
            meanings.computeIfAbsent(word, w -> new TreeSet<>()).add(where);
        }
    }

    @Test
    void everyWordThatMeansTwoThingsHasAReason() throws IOException {
        StringWriter help = new StringWriter();
        Main.run(new PrintWriter(help), new PrintWriter(help), "completion", "fish");
        Matcher command = Pattern.compile("-f -a (\\w+)").matcher(help.toString());
        while (command.find()) {
            note(command.group(1), "command");
        }
        Matcher option = Pattern.compile("-l ([\\w-]+)").matcher(help.toString());
        while (option.find()) {
            note(option.group(1).replace('-', '_'), "option");
        }
        ClauseEntry.all().forEach(c -> note(c.name(), "clause"));
        Fiesta.functions().forEach(f -> note(f.name(), "function"));
        WordEntry.all()
                .forEach(e -> e.words().forEach(w -> note(w, e.place().title().toLowerCase(Locale.ROOT))));
        Matcher field = Pattern.compile("\"(\\w+)\": \\{ \"type\"")
                .matcher(Files.readString(Path.of("..", "docs", "run.schema.json")));
        while (field.find()) {
            note(field.group(1), "record");
        }
        assertThat(meanings).hasSizeGreaterThan(250);
        Set<String> several = new TreeSet<>();
        meanings.forEach((word, places) -> {
            if (places.size() > 1) {
                several.add(word);
            }
        });
        assertThat(REASONS.keySet()).containsExactlyInAnyOrderElementsOf(several);
    }

    @Test
    void wordsOfEarlierDraftsStandNowhere() throws IOException {
        Set<String> found = new TreeSet<>();
        try (Stream<Path> files = Files.walk(Path.of(".."))) {
            for (Path file : files.filter(WordsTest::isOurs).toList()) {
                Matcher old = OLD.matcher(Files.readString(file));
                while (old.find()) {
                    found.add(file.getFileName() + ": " + old.group());
                }
            }
        }
        assertThat(found)
                .allMatch(f -> f.startsWith("ForeignWord.java")
                        || f.startsWith("WordsTest.java")
                        || f.startsWith("HostileTest.java"));
        assertThat(ForeignWord.ours("unfold")).hasValue("turn");
    }

    private static boolean isOurs(Path file) {
        return file.toString().matches(".*/(src|docs)/.*\\.(java|md|json|peb|brief)|\\.\\./README\\.md")
                && !file.toString().contains("/target/");
    }
}
