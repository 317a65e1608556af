package dev.fiesta.formats;

import dev.fiesta.source.InputFormat;
import dev.fiesta.source.LineFormat;
import java.util.List;
import java.util.Locale;
import java.util.function.IntConsumer;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.core.json.JsonReadFeature;

/**
 * A JSON object a line. Objects inside are fields of their own ({@code place.site}); a list is its JSON as a text.
 *
 * <pre>{@code
 * Fiesta fiesta = Fiesta.with().reads(JsonLines.FORMAT).open();
 * }</pre>
 */
public final class JsonLines implements LineFormat {
    /** {@code as jsonl}, and files that end in {@code .jsonl} or {@code .ndjson}. */
    public static final InputFormat FORMAT = InputFormat.lines("jsonl", List.of(".jsonl", ".ndjson"), new JsonLines());

    private final JsonFactory factory = factory();

    private JsonLines() {}

    static JsonFactory factory() {
        return JsonFactory.builder()
                .disable(JsonReadFeature.ALLOW_NON_NUMERIC_NUMBERS)
                .build();
    }

    @Override
    public void read(byte[] bytes, int start, int end, Fields fields) throws Unreadable {
        try (JsonParser parser = factory.createParser(ObjectReadContext.empty(), bytes, start, end - start)) {
            if (parser.nextToken() != JsonToken.START_OBJECT) {
                throw new Unreadable("this is no JSON object; each line holds one");
            }
            object(parser, "", fields);
            if (parser.nextToken() != null) {
                throw new Unreadable("something stands behind the JSON object; each line holds one");
            }
        } catch (JacksonException e) {
            throw new Unreadable("this is no JSON: " + plain(e.getOriginalMessage()));
        }
    }

    private static void object(JsonParser parser, String prefix, Fields fields) throws Unreadable {
        for (String key = parser.nextName(); key != null; key = parser.nextName()) {
            String name = whole("a name", prefix + key);
            switch (parser.nextToken()) {
                case START_OBJECT -> object(parser, name + ".", fields);
                case START_ARRAY -> fields.text(name, whole(name, list(parser, depth -> {})));
                case VALUE_NUMBER_INT, VALUE_NUMBER_FLOAT -> fields.number(name, parser.getString());
                case VALUE_TRUE -> fields.truth(name, true);
                case VALUE_FALSE -> fields.truth(name, false);
                case VALUE_NULL -> fields.missing(name);
                default -> fields.text(name, whole(name, parser.getString()));
            }
        }
    }

    /** A text of whole characters: an escape may write half of one, which no file can hold. */
    static String whole(String name, String text) throws Unreadable {
        for (int i = 0; i < text.length(); i++) {
            boolean pair = Character.isHighSurrogate(text.charAt(i))
                    && i + 1 < text.length()
                    && Character.isLowSurrogate(text.charAt(i + 1));
            if (!pair && Character.isSurrogate(text.charAt(i))) {
                throw new Unreadable(String.format(
                        Locale.ROOT, "%s holds half of a character, \\u%04x", name, (int) text.charAt(i)));
            }
            i += pair ? 1 : 0;
        }
        return text;
    }

    /**
     * A list as it was written, without the blanks between its values.
     *
     * @param object is told where an object begins in it
     */
    static String list(JsonParser parser, IntConsumer object) {
        StringBuilder text = new StringBuilder("[");
        int depth = 1;
        while (depth > 0) {
            JsonToken token = parser.nextToken();
            if (token == JsonToken.START_OBJECT) {
                object.accept(depth);
            }
            boolean closes = token == JsonToken.END_ARRAY || token == JsonToken.END_OBJECT;
            char last = text.charAt(text.length() - 1);
            if (!closes && last != '[' && last != '{' && last != ':') {
                text.append(',');
            }
            depth += token == JsonToken.START_ARRAY || token == JsonToken.START_OBJECT ? 1 : closes ? -1 : 0;
            if (token == JsonToken.VALUE_STRING || token == JsonToken.PROPERTY_NAME) {
                text.append('"')
                        .append(new String(tools.jackson.core.io.JsonStringEncoder.getInstance()
                                .quoteAsCharArray(parser.getString())));
                text.append(token == JsonToken.PROPERTY_NAME ? "\":" : "\"");
            } else {
                text.append(parser.getString());
            }
        }
        return text.toString();
    }

    /** The first sentence of a message; the rest speaks of bytes in memory. */
    static String plain(String message) {
        String first = message.lines().findFirst().orElse("").replaceFirst(" ?\\((start marker|.*Source:).*", "");
        return first.length() > 120 ? first.substring(0, 119) + "…" : first;
    }
}
