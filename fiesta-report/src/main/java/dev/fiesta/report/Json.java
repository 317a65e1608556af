package dev.fiesta.report;

import dev.fiesta.survey.FieldSurvey;
import dev.fiesta.survey.Survey;
import dev.fiesta.value.Texts;
import java.math.BigDecimal;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.util.DefaultIndenter;
import tools.jackson.core.util.DefaultPrettyPrinter;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.ObjectWriter;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** What is written as JSON, with its fields always in the same order. */
final class Json {
    private static final JsonMapper MAPPER = JsonMapper.builder().build();

    private Json() {}

    static JsonNode read(String text) {
        return MAPPER.readTree(text);
    }

    static ObjectNode object() {
        return MAPPER.createObjectNode();
    }

    static ArrayNode list() {
        return MAPPER.createArrayNode();
    }

    static String pretty(ObjectNode tree) {
        DefaultIndenter lines = new DefaultIndenter("  ", "\n");
        DefaultPrettyPrinter printer =
                new DefaultPrettyPrinter().withObjectIndenter(lines).withArrayIndenter(lines);
        ObjectWriter writer = MAPPER.writer().with(printer);
        return writer.writeValueAsString(tree) + "\n";
    }

    static ObjectNode of(Survey survey) {
        ObjectNode tree = MAPPER.createObjectNode();
        tree.put("records", survey.records());
        ArrayNode fields = tree.putArray("fields");
        survey.fields().forEach(f -> fields.add(of(f)));
        ArrayNode remarks = tree.putArray("remarks");
        survey.remarks().forEach(remarks::add);
        return tree;
    }

    private static ObjectNode of(FieldSurvey field) {
        ObjectNode tree = MAPPER.createObjectNode();
        tree.put("name", field.name());
        tree.put("type", field.type().toString());
        tree.put("missing", field.missing());
        tree.put("distinct", field.distinct());
        tree.put("exact", field.exact());
        put(tree, "least", field.least());
        put(tree, "greatest", field.greatest());
        put(tree, "mean", field.mean());
        ArrayNode quartiles = tree.putArray("quartiles");
        field.quartiles().forEach(q -> add(quartiles, q));
        ArrayNode frequent = tree.putArray("frequent");
        for (FieldSurvey.Frequent value : field.frequent()) {
            ObjectNode one = frequent.addObject();
            put(one, "value", value.value());
            one.put("count", value.count());
        }
        if (field.histogram() == null) {
            tree.putNull("histogram");
        } else {
            ObjectNode histogram = tree.putObject("histogram");
            put(histogram, "least", field.histogram().least());
            put(histogram, "greatest", field.histogram().greatest());
            ArrayNode counts = histogram.putArray("counts");
            field.histogram().counts().forEach(counts::add);
        }
        ArrayNode oddities = tree.putArray("oddities");
        for (FieldSurvey.Oddity oddity : field.oddities()) {
            ObjectNode one = oddities.addObject();
            one.put("kind", oddity.kind().name().toLowerCase(java.util.Locale.ROOT));
            one.put("text", oddity.text());
            one.put("suggestion", oddity.suggestion());
        }
        return tree;
    }

    static void put(ObjectNode tree, String name, @Nullable Object value) {
        if (value instanceof Long n) {
            tree.put(name, n);
        } else if (value instanceof BigDecimal d) {
            tree.put(name, d);
        } else if (value instanceof Double d) {
            tree.put(name, d);
        } else if (value instanceof Boolean b) {
            tree.put(name, b);
        } else {
            tree.put(name, value == null ? null : Texts.of(value));
        }
    }

    private static void add(ArrayNode list, Object value) {
        if (value instanceof Double d) {
            list.add(d);
        } else {
            list.add(Texts.of(value));
        }
    }
}
