package dev.fiesta.formats;

import dev.fiesta.problem.DataException;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.Inside;
import dev.fiesta.source.LineFormat.Fields;
import dev.fiesta.source.LineFormat.Unreadable;
import dev.fiesta.source.RecordFormat;
import dev.fiesta.source.files.Paths;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.exc.JacksonIOException;
import tools.jackson.core.json.JsonFactory;

/**
 * A document of JSON that holds a list of objects: a record each. With {@code items 'data.items'} the list stands in objects; with
 * {@code each 'lines'} each object in the list {@code lines} of a record is a record, with what stands around it.
 *
 * <pre>{@code
 * Fiesta fiesta = Fiesta.with().reads(JsonDocuments.FORMAT).open();
 * }</pre>
 */
public final class JsonDocuments implements RecordFormat {
    /** {@code as json}, and files that end in {@code .json}. */
    public static final InputFormat FORMAT =
            InputFormat.records("json", List.of(".json"), Set.of("items", "each"), new JsonDocuments());

    private static final int MOST_LISTS_TOLD = 5;

    private final JsonFactory factory = JsonLines.factory();

    private JsonDocuments() {}

    @Override
    public void read(Paths.Named file, Inside inside, Records to) throws IOException {
        try (InputStream in = new BufferedInputStream(Files.newInputStream(file.path()));
                JsonParser parser = factory.createParser(ObjectReadContext.empty(), in)) {
            new Reading(file.name(), inside, parser, to).document();
        } catch (JacksonIOException e) {
            throw e.getCause();
        }
    }

    /** A value that waits until its record is whole. */
    private record Held(String name, Consumer<Fields> value) {}

    /** The reading of one document. */
    private static final class Reading {
        private final String file;
        private final Inside inside;
        private final JsonParser parser;
        private final Records to;
        private final Set<String> lists = new LinkedHashSet<>();
        private long object;

        Reading(String file, Inside inside, JsonParser parser, Records to) {
            this.file = file;
            this.inside = inside;
            this.parser = parser;
            this.to = to;
        }

        void document() {
            try {
                JsonToken first = parser.nextToken();
                boolean found = inside.items() == null ? first == JsonToken.START_ARRAY : first != null && find("");
                if (!found) {
                    throw wrong(": " + noList(first));
                }
                while (parser.nextToken() != JsonToken.END_ARRAY) {
                    object++;
                    if (parser.currentToken() != JsonToken.START_OBJECT) {
                        throw new Unreadable("this is no object; each item of the list holds one");
                    }
                    record();
                }
                if (inside.items() == null && parser.nextToken() != null) {
                    throw wrong(": something stands behind the list.");
                }
            } catch (Unreadable e) {
                throw wrong(", record " + object + ": " + e.getMessage() + ".");
            } catch (JacksonIOException e) {
                throw e;
            } catch (JacksonException e) {
                throw wrong(", line " + e.getLocation().getLineNr() + ": this is no JSON: "
                        + JsonLines.plain(e.getOriginalMessage()) + ".");
            }
        }

        private DataException wrong(String why) {
            return new DataException(file + why, file, 0, null, null);
        }

        private String noList(@Nullable JsonToken first) {
            if (inside.items() != null) {
                String known = lists.isEmpty() ? "" : " It has " + told() + ".";
                return "there is no list '" + inside.items() + "'." + known;
            }
            if (first != JsonToken.START_OBJECT) {
                return "it holds no list of objects.";
            }
            find("");
            return "it holds an object, not a list of objects."
                    + (lists.isEmpty() ? "" : " Say which of its lists has the records: items " + told());
        }

        private String told() {
            return "'"
                    + String.join("', '", lists.stream().limit(MOST_LISTS_TOLD).toList()) + "'";
        }

        /** Goes through an object to the list that is wanted; notes the lists on the way. */
        private boolean find(String prefix) {
            if (parser.currentToken() != JsonToken.START_OBJECT) {
                return false;
            }
            for (String key = parser.nextName(); key != null; key = parser.nextName()) {
                String name = prefix + key;
                JsonToken token = parser.nextToken();
                if (token == JsonToken.START_ARRAY) {
                    lists.add(name);
                    if (name.equals(inside.items())) {
                        return true;
                    }
                    parser.skipChildren();
                } else if (token == JsonToken.START_OBJECT && find(name + ".")) {
                    return true;
                }
            }
            return false;
        }

        /** The object that begins here: a record, or one for each object of a list in it. */
        private void record() throws Unreadable {
            List<Held> around = new ArrayList<>();
            List<List<Held>> each = new ArrayList<>();
            boolean[] met = {false};
            object("", around, each, met);
            if (inside.each() == null || !met[0]) {
                each.add(List.of()); // a record without the list is one record
            }
            for (List<Held> own : each) {
                around.forEach(h -> h.value().accept(to));
                own.forEach(h -> h.value().accept(to));
                to.end(object);
            }
        }

        private void object(String prefix, List<Held> held, @Nullable List<List<Held>> each, boolean[] met)
                throws Unreadable {
            for (String key = parser.nextName(); key != null; key = parser.nextName()) {
                String name = JsonLines.whole("a name", prefix + key);
                JsonToken token = parser.nextToken();
                if (token == JsonToken.START_OBJECT) {
                    object(name + ".", held, each, met);
                } else if (token != JsonToken.START_ARRAY) {
                    value(name, token, held);
                } else if (each != null && name.equals(inside.each())) {
                    met[0] = true;
                    each(name, each);
                } else {
                    String list = JsonLines.whole(name, JsonLines.list(parser, depth -> {
                        throw new DataException(
                                file + ", record " + object + ": '" + name
                                        + "' is a list of objects.\n  For a record for each of them, with the fields around: each '"
                                        + name + "'",
                                file,
                                object,
                                name,
                                null);
                    }));
                    held.add(new Held(name, f -> f.text(name, list)));
                }
            }
        }

        private void each(String name, List<List<Held>> each) throws Unreadable {
            while (parser.nextToken() != JsonToken.END_ARRAY) {
                List<Held> own = new ArrayList<>();
                if (parser.currentToken() == JsonToken.START_OBJECT) {
                    object(name + ".", own, null, new boolean[1]);
                } else if (parser.currentToken() == JsonToken.START_ARRAY) {
                    throw new Unreadable("'" + name + "' holds a list in the list");
                } else {
                    value(name, parser.currentToken(), own);
                }
                each.add(own);
            }
        }

        private void value(String name, JsonToken token, List<Held> held) throws Unreadable {
            String text = token == JsonToken.VALUE_STRING || token.isNumeric() ? parser.getString() : "";
            held.add(new Held(
                    name,
                    switch (token) {
                        case VALUE_NUMBER_INT, VALUE_NUMBER_FLOAT -> f -> f.number(name, text);
                        case VALUE_TRUE -> f -> f.truth(name, true);
                        case VALUE_FALSE -> f -> f.truth(name, false);
                        case VALUE_NULL -> f -> f.missing(name);
                        default -> {
                            JsonLines.whole(name, text);
                            yield f -> f.text(name, text);
                        }
                    }));
        }
    }
}
