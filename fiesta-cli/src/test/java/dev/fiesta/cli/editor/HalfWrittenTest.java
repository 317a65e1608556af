package dev.fiesta.cli.editor;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.catalogue.ClauseEntry;
import dev.fiesta.editing.Candidate;
import dev.fiesta.editing.KnownInput;
import dev.fiesta.editing.UnfinishedBrief;
import dev.fiesta.examples.Ribera;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Token;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Briefs as they stand while they are written: beginnings, every word missing, words in each other's places. */
class HalfWrittenTest {
    private static final long SEED = 20260512;
    private static final boolean NIGHTLY = Boolean.getBoolean("fiesta.nightly");

    @TempDir
    private static Path folder;

    private static UnfinishedBrief.Around around;
    private static final List<String> BRIEFS = new ArrayList<>();

    @BeforeAll
    static void briefs() throws IOException {
        Ribera.unpack(folder);
        Map<String, KnownInput> inputs = new LinkedHashMap<>();
        try (Fiesta fiesta = Fiesta.open();
                Stream<Path> files = Files.list(folder)) {
            for (Path file :
                    files.filter(f -> f.toString().endsWith(".brief")).sorted().toList()) {
                BRIEFS.add(Files.readString(file));
                Brief.read(file)
                        .tables(fiesta)
                        .inputs()
                        .forEach((name, schema) -> inputs.put(name, new KnownInput(schema, null)));
            }
        }
        around = new UnfinishedBrief.Around(List.of(), inputs, List.of("csv"), folder);
    }

    private static UnfinishedBrief of(String text) {
        return UnfinishedBrief.of(new BriefText("half.brief", text), around);
    }

    /** Asks all that an editor asks; whatever stands there, there is an answer. */
    private static void ask(String text, int offset) {
        UnfinishedBrief brief = of(text);
        assertThat(brief.candidates(offset))
                .allMatch(c -> c.replaces().start() >= 0 && c.replaces().start() <= offset)
                .allMatch(c -> c.replaces().end() == offset);
        brief.explanation(offset);
        brief.call(offset);
        brief.standing(offset);
        assertThat(brief.occurrences()).allMatch(o -> o.at().end() <= text.length());
        Documents.Document document =
                new Documents.Document("file:///half.brief", null, text, new TextPositions(text), brief);
        Outline.symbols(document);
        Outline.folds(document);
        SemanticWords.of(document);
        brief.problems().forEach(p -> document.positions().of(p));
    }

    /** Every eighth one in an ordinary build. */
    @Test
    void beginningsAreAnswered() {
        for (String brief : BRIEFS) {
            for (int end = 0; end <= brief.length(); end += NIGHTLY ? 1 : 8) {
                ask(brief.substring(0, end), end);
            }
        }
    }

    @Test
    void aWordMayBeMissing() {
        for (String brief : BRIEFS) {
            List<Token> words = of(brief).words();
            for (int i = 0; i < words.size(); i += NIGHTLY ? 1 : 3) {
                Token word = words.get(i);
                String without = brief.substring(0, word.at().start())
                        + brief.substring(word.at().end());
                ask(without, word.at().start());
            }
        }
    }

    @Test
    void anyWordMayStandAnywhere() {
        Random chance = new Random(SEED);
        for (int i = 0; i < (NIGHTLY ? 1_000 : 300); i++) {
            String brief = BRIEFS.get(chance.nextInt(BRIEFS.size()));
            List<Token> words = of(brief).words();
            Token to = words.get(chance.nextInt(words.size()));
            Token from = words.get(chance.nextInt(words.size()));
            String moved = brief.substring(0, to.at().start())
                    + brief.substring(from.at().start(), from.at().end())
                    + brief.substring(to.at().end());
            ask(moved, to.at().start());
        }
    }

    /** What stands in a brief that is right was offered where it stands: keywords, names of fields and tables, functions. */
    @Test
    void whatIsWrittenWasOffered() {
        int asked = 0;
        List<String> missed = new ArrayList<>();
        for (String text : BRIEFS) {
            UnfinishedBrief brief = of(text);
            assertThat(brief.problems()).isEmpty();
            for (Token word : brief.words()) {
                if (!word.is(Token.Kind.NAME) || isNew(brief, word)) {
                    continue;
                }
                asked++;
                boolean offered = brief.candidates(word.at().start()).stream()
                        .anyMatch(c -> (c.label() + " ").startsWith(word.text() + " "));
                if (!offered) {
                    missed.add(word.text() + " at "
                            + text.substring(
                                            Math.max(0, word.at().start() - 40),
                                            word.at().start())
                                    .replace('\n', ' '));
                }
            }
        }
        assertThat(asked).isGreaterThan(500);
        assertThat(missed).isEmpty();
    }

    /** A name that is made here cannot be known; so is a span of time, and a second word of two. */
    private static boolean isNew(UnfinishedBrief brief, Token word) {
        return brief.occurrences().stream().anyMatch(o -> o.at().equals(word.at()) && o.defines());
    }

    @Test
    void everyExampleOfAClauseIsOfferedToo() {
        for (ClauseEntry clause : ClauseEntry.all()) {
            if (clause.example().isEmpty()) {
                continue;
            }
            String text = "input sales from 'x.csv'\ntable t from sales\n  " + clause.example();
            int at = text.indexOf(clause.example()) + clause.example().indexOf(clause.name());
            assertThat(of(text).candidates(at)).extracting(Candidate::label).contains(clause.name());
        }
    }
}
