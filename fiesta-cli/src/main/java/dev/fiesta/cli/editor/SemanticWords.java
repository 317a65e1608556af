package dev.fiesta.cli.editor;

import dev.fiesta.catalogue.WordEntry;
import dev.fiesta.editing.Meaning;
import dev.fiesta.editing.Occurrence;
import dev.fiesta.editing.UnfinishedBrief;
import dev.fiesta.language.Keywords;
import dev.fiesta.language.Span;
import dev.fiesta.language.Token;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.eclipse.lsp4j.Position;
import org.eclipse.lsp4j.SemanticTokens;
import org.eclipse.lsp4j.SemanticTokensLegend;
import org.jspecify.annotations.Nullable;

/** Which sort of word stands where, for colours. */
final class SemanticWords {
    private static final List<String> SORTS =
            List.of("keyword", "function", "property", "class", "parameter", "string", "number", "comment", "operator");
    static final SemanticTokensLegend LEGEND = new SemanticTokensLegend(SORTS, List.of("declaration"));

    /** What means something by itself; anything else is a name, whatever is known of it. */
    private static final Set<String> WORDS = Stream.of(
                    Keywords.CLAUSES.stream(),
                    Keywords.PARTS.stream(),
                    Keywords.RESERVED.stream(),
                    WordEntry.all().stream().flatMap(e -> e.words().stream()))
            .flatMap(words -> words)
            .collect(Collectors.toUnmodifiableSet());

    /** A word of some sort. */
    private record Word(Span at, String sort, boolean defines) {}

    private final Documents.Document document;
    private final List<Integer> data = new ArrayList<>();
    private Position last = new Position(0, 0);

    private SemanticWords(Documents.Document document) {
        this.document = document;
    }

    static SemanticTokens of(Documents.Document document) {
        SemanticWords words = new SemanticWords(document);
        words.sorted().forEach(words::add);
        return new SemanticTokens(words.data);
    }

    private List<Word> sorted() {
        UnfinishedBrief brief = document.brief();
        Map<Integer, Occurrence> names = new HashMap<>();
        brief.occurrences().forEach(o -> names.put(o.at().start(), o));
        List<Word> words = new ArrayList<>();
        List<Token> tokens = brief.words();
        int behind = 0;
        for (int i = 0; i < tokens.size(); i++) {
            Token token = tokens.get(i);
            comments(behind, token.at().start(), words);
            behind = token.at().end();
            boolean called = i + 1 < tokens.size() && tokens.get(i + 1).text().equals("(");
            Occurrence name = token.is(Token.Kind.PARAMETER)
                    ? names.get(token.at().end() - token.text().length())
                    : names.get(token.at().start());
            String sort = name != null && !token.is(Token.Kind.TEXT) ? sort(name.meaning()) : sort(token, called);
            if (sort != null) {
                words.add(new Word(token.at(), sort, name != null && name.defines()));
            }
        }
        return words;
    }

    private void comments(int from, int to, List<Word> words) {
        String text = document.text();
        int at = text.indexOf('#', from);
        while (at >= 0 && at < to) {
            int end = text.indexOf('\n', at);
            end = end < 0 ? text.length() : end;
            words.add(new Word(new Span(at, end), "comment", false));
            at = text.indexOf('#', end);
        }
    }

    private static String sort(Meaning meaning) {
        return switch (meaning.kind()) {
            case FIELD -> "property";
            case PARAMETER -> "parameter";
            default -> "class";
        };
    }

    private static @Nullable String sort(Token token, boolean called) {
        return switch (token.kind()) {
            case NAME -> called ? "function" : WORDS.contains(token.text()) ? "keyword" : "property";
            case QUOTED -> "property";
            case TEXT -> "string";
            case PARAMETER -> "parameter";
            case INTEGER, DECIMAL, NUMBER, DATE, DATETIME -> "number";
            case SIGN -> List.of("(", ")", ",", ".").contains(token.text()) ? null : "operator";
            case END -> null;
        };
    }

    private void add(Word word) {
        Position start = document.positions().of(word.at().start());
        int line = start.getLine() - last.getLine();
        data.add(line);
        data.add(line == 0 ? start.getCharacter() - last.getCharacter() : start.getCharacter());
        data.add(word.at().end() - word.at().start());
        data.add(SORTS.indexOf(word.sort()));
        data.add(word.defines() ? 1 : 0);
        last = start;
    }
}
