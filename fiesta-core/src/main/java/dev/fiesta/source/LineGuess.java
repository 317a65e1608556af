package dev.fiesta.source;

import dev.fiesta.source.cells.CellType;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.MetCells;
import dev.fiesta.value.Type;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Works out the fields of records and their types. What stands as a text is one, unless it is a date or a time. */
final class LineGuess implements LineFormat.Fields {
    private static final byte[] NOTHING = {};

    private final Dialect dialect;
    private final Map<String, MetCells> met = new LinkedHashMap<>();

    /** @param dialect how values are written that stand as cells, and which words stand for missing ones */
    LineGuess(Dialect dialect) {
        this.dialect = dialect;
    }

    /** Takes what stands behind these records. */
    void add(LineGuess other) {
        other.met.forEach((name, cells) ->
                met.computeIfAbsent(name, n -> new MetCells(false)).add(cells));
    }

    /** The types met, in the order in which fields came. */
    Map<String, Type> types() {
        Map<String, Type> types = new LinkedHashMap<>();
        met.forEach((name, cells) -> types.put(name, cells.type()));
        return types;
    }

    /** What must be told of fields whose numbers are too long to be exact. */
    List<String> remarks() {
        return met.entrySet().stream()
                .flatMap(e -> e.getValue().remark(e.getKey()).stream())
                .toList();
    }

    private void met(String name, Type type, byte[] cell) {
        met.computeIfAbsent(name, n -> new MetCells(false)).cell(cell, 0, cell.length, type);
    }

    private void met(String name, Type type) {
        met(name, type, NOTHING);
    }

    @Override
    public void text(String name, String value) {
        met(name, dialect.missing().contains(value.strip()) ? Type.EMPTY : typeOfText(value));
    }

    static Type typeOfText(String value) {
        byte[] bytes = value.getBytes(StandardCharsets.UTF_8);
        Type type = bytes.length == 0 ? Type.EMPTY : CellType.of(bytes, 0, bytes.length);
        return type.kind() == dev.fiesta.value.Kind.EMPTY || type.isTime() ? type : Type.TEXT;
    }

    @Override
    public void number(String name, String digits) {
        byte[] bytes = digits.getBytes(StandardCharsets.US_ASCII);
        met(name, CellType.ofNumber(bytes), bytes);
    }

    @Override
    public void cell(String name, String written) {
        byte[] content = TypeGuess.content(dialect, written);
        met(name, content.length == 0 ? Type.EMPTY : CellType.of(content, 0, content.length), content);
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
