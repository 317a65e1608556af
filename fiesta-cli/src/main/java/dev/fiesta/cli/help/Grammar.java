package dev.fiesta.cli.help;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.WordEntry;
import dev.fiesta.language.Keywords;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.stream.Collectors;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** The grammar by which editors colour briefs, made from the words that the parser knows; in the form that many editors read. */
final class Grammar {
    private static final String BEFORE = "(?<![\\p{L}\\p{Nd}_])";
    private static final String BEHIND = "(?![\\p{L}\\p{Nd}_])";
    private static final List<String> CONSTANTS = List.of("missing", "true", "false");

    private Grammar() {}

    static String json(List<Entry> functions) {
        List<Map<String, Object>> patterns = new ArrayList<>();
        patterns.add(match("comment.line.number-sign.fiesta", "#.*$"));
        Map<String, Object> text = match("string.quoted.single.fiesta", "'(?:[^'\\n]|'')*'");
        text.put(
                "captures",
                Map.of("0", Map.of("patterns", List.of(match("variable.parameter.fiesta", "\\{[^{}']*\\}")))));
        patterns.add(text);
        patterns.add(match("variable.other.quoted.fiesta", "\"(?:[^\"\\n]|\"\")*\""));
        patterns.add(match("variable.parameter.fiesta", ":[\\p{L}_][\\p{L}\\p{Nd}_]*"));
        patterns.add(match(
                "constant.numeric.date.fiesta",
                BEFORE + "\\d{4}-\\d{2}-\\d{2}(?:T\\d{2}:\\d{2}(?::\\d{2}(?:\\.\\d+)?)?)?"));
        patterns.add(match("constant.numeric.fiesta", BEFORE + "\\d+(?:\\.\\d+)?(?:[eE][+-]?\\d+)?"));
        // What stands before '=' is a name, whatever word it is.
        patterns.add(match("variable.other.name.fiesta", BEFORE + "[\\p{L}_][\\p{L}\\p{Nd}_]*(?=\\s*=)"));
        patterns.add(match("storage.type.fiesta", BEFORE + "decimal(?=\\s*\\(\\s*\\d+\\s*\\))"));
        patterns.add(match("support.function.fiesta", words(names(functions)) + "(?=\\s*\\()"));
        patterns.add(match("constant.language.fiesta", words(CONSTANTS)));
        patterns.add(match("storage.type.fiesta", words(ofPlace(WordEntry.Place.TYPE))));
        Collection<String> steps = new ArrayList<>(Keywords.CLAUSES);
        steps.addAll(Keywords.PARTS);
        steps.addAll(List.of("give", "against"));
        patterns.add(match("keyword.control.fiesta", words(steps) + "(?!\\s*\\()"));
        patterns.add(match("keyword.other.fiesta", words(others(steps)) + "(?!\\s*\\()"));
        patterns.add(match("keyword.operator.fiesta", "<>|<=|>=|\\|\\||[=<>+*/%-]"));
        Map<String, Object> grammar = new LinkedHashMap<>();
        grammar.put("name", "Fiesta brief");
        grammar.put("scopeName", "source.fiesta");
        grammar.put("fileTypes", List.of("brief"));
        grammar.put("patterns", patterns);
        return JsonMapper.builder()
                        .enable(SerializationFeature.INDENT_OUTPUT)
                        .build()
                        .writeValueAsString(grammar)
                + "\n";
    }

    private static Map<String, Object> match(String name, String pattern) {
        Map<String, Object> match = new LinkedHashMap<>();
        match.put("name", name);
        match.put("match", pattern);
        return match;
    }

    private static String words(Collection<String> words) {
        return BEFORE + words.stream().collect(Collectors.joining("|", "(?:", ")")) + BEHIND;
    }

    private static List<String> names(List<Entry> functions) {
        return functions.stream().map(Entry::name).distinct().sorted().toList();
    }

    private static List<String> ofPlace(WordEntry.Place place) {
        return WordEntry.all().stream()
                .filter(e -> e.place() == place)
                .flatMap(e -> e.words().stream())
                .distinct()
                .sorted()
                .toList();
    }

    private static Collection<String> others(Collection<String> steps) {
        Collection<String> words = new TreeSet<>(Keywords.RESERVED);
        WordEntry.all().forEach(e -> words.addAll(e.words()));
        words.removeIf(w -> !w.matches("[a-z_]+"));
        words.removeAll(steps);
        words.removeAll(CONSTANTS);
        words.removeAll(ofPlace(WordEntry.Place.TYPE));
        words.removeAll(List.of("x", "y"));
        return words;
    }
}
