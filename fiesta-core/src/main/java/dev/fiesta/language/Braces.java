package dev.fiesta.language;

import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Texts with places to be filled, {@code {:from_day}} or {@code {best.rows}}. */
public final class Braces {
    private static final Pattern PLACE = Pattern.compile("\\{\\{|\\{([^{}]*)\\}");

    private Braces() {}

    /** Fills places; what the filler does not know (null) stays as written. Two braces stand for one. */
    public static String fill(String text, Function<String, @Nullable String> filler) {
        Matcher matcher = PLACE.matcher(text);
        StringBuilder filled = new StringBuilder();
        while (matcher.find()) {
            String inner = matcher.group(1);
            String value = inner == null ? "{" : filler.apply(inner.strip());
            matcher.appendReplacement(filled, Matcher.quoteReplacement(value == null ? matcher.group() : value));
        }
        return matcher.appendTail(filled).toString();
    }
}
