package dev.fiesta.report.text;

import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Properties;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** The report's own words, in the language of a locale: {@code Total}, {@code Filter rows}, {@code What this rests on}. */
public final class Words {
    /** The languages that there are words in; others have those of the first. */
    public static final List<String> LANGUAGES = List.of("en", "de", "es", "fr", "it", "nl", "pl", "pt");

    private static final Pattern PLACE = Pattern.compile("\\{(\\d)}");
    private static final Map<String, Words> KNOWN = known();

    private final Map<String, String> words;

    private Words(Map<String, String> words) {
        this.words = Map.copyOf(words);
    }

    /** @param locale such as {@code pt-PT} */
    public static Words of(String locale) {
        return Objects.requireNonNull(KNOWN.getOrDefault(language(locale), KNOWN.get(LANGUAGES.get(0))));
    }

    public static boolean knows(String locale) {
        return KNOWN.containsKey(language(locale));
    }

    private static String language(String locale) {
        return Locale.forLanguageTag(locale.replace('_', '-')).getLanguage();
    }

    private static Map<String, Words> known() {
        Map<String, Words> all = new HashMap<>();
        for (String language : LANGUAGES) {
            all.put(language, new Words(read(language)));
        }
        return Map.copyOf(all);
    }

    private static Map<String, String> read(String language) {
        Properties read = new Properties();
        String file = "/dev/fiesta/report/words/" + language + ".properties";
        try (InputStream in = Objects.requireNonNull(Words.class.getResourceAsStream(file), file)) {
            read.load(new InputStreamReader(in, StandardCharsets.UTF_8));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        Map<String, String> words = new HashMap<>();
        read.forEach((key, word) -> words.put(key.toString(), word.toString()));
        return words;
    }

    /** All of them, by their keys, as templates take them. */
    public Map<String, String> all() {
        return words;
    }

    /**
     * A word, or a sentence with its places filled.
     *
     * @param values for {@code {0}}, {@code {1}} …
     */
    public String get(String key, String... values) {
        String text = Objects.requireNonNull(words.get(key), key);
        return PLACE.matcher(text)
                .replaceAll(place -> Matcher.quoteReplacement(values[Integer.parseInt(place.group(1))]));
    }
}
