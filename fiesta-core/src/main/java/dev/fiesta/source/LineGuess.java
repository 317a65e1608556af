package dev.fiesta.source;

import dev.fiesta.value.Type;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Works out the fields of records and their types. What stands as a text is one, unless it is a date or a time. */
final class LineGuess implements LineFormat.Fields {
    private final List<String> missingWords;
    private final Map<String, Type> types = new LinkedHashMap<>();

    LineGuess(List<String> missingWords) {
        this.missingWords = missingWords;
    }

    /** The types met, in the order in which fields came. */
    Map<String, Type> types() {
        return types;
    }

    private void met(String name, Type type) {
        types.merge(name, type, CellType::both);
    }

    @Override
    public void text(String name, String value) {
        met(name, missingWords.contains(value.strip()) ? Type.EMPTY : typeOfText(value));
    }

    static Type typeOfText(String value) {
        byte[] bytes = value.getBytes(StandardCharsets.UTF_8);
        Type type = bytes.length == 0 ? Type.EMPTY : CellType.of(bytes, 0, bytes.length);
        return type.kind() == dev.fiesta.value.Kind.EMPTY || type.isTime() ? type : Type.TEXT;
    }

    @Override
    public void number(String name, String digits) {
        byte[] bytes = digits.getBytes(StandardCharsets.US_ASCII);
        met(name, CellType.of(bytes, 0, bytes.length));
    }

    @Override
    public void truth(String name, boolean value) {
        met(name, Type.TRUTH);
    }

    @Override
    public void missing(String name) {
        met(name, Type.EMPTY);
    }
}
