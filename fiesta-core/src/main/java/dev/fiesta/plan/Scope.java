package dev.fiesta.plan;

import dev.fiesta.step.InputTexts.InputField;
import dev.fiesta.step.TablePlan;
import dev.fiesta.step.TablePlan.Level;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** What names mean at a place of a table: the visible fields and their slots, what a row is, and what has been lost. */
final class Scope {
    /** A visible field. */
    record Seen(int slot, Type type) {}

    /** What every input has besides its fields; nobody sees it who does not name it. */
    private static final String FILE_NAME = "file_name";

    private final LinkedHashMap<String, Seen> fields = new LinkedHashMap<>();
    private final Map<String, Integer> lost = new HashMap<>();
    private final Map<String, Integer> dropped = new HashMap<>();
    private final Map<String, Unit> periods = new HashMap<>();
    private final Map<String, Seen> aliases = new LinkedHashMap<>();
    private final Map<Integer, Integer> marks = new LinkedHashMap<>();
    private final Map<Integer, InputField> texts = new HashMap<>();
    private Level level = Level.RECORDS;
    private int width;
    private int fileName = -1;
    private int origin = -1;
    private boolean columnsFromData;

    /** Starts with the visible fields of a table. */
    static Scope of(TablePlan from) {
        Scope scope = new Scope();
        Schema schema = from.schema();
        for (int i = 0; i < schema.size(); i++) {
            scope.fields.put(schema.field(i).name(), new Seen(i, schema.type(i)));
            scope.text(i, from.text(i));
        }
        scope.origin = from.origin() < 0 ? -1 : from.isInput() ? from.origin() : schema.size();
        int passedOn = from.passedOn().size();
        int first = passedOn - from.marks().size();
        for (int i = 0; i < from.marks().size(); i++) {
            TablePlan.Mark mark = from.marks().get(i);
            if (mark.says() == TablePlan.Mark.Says.HIDDEN) {
                scope.marks.put(mark.field(), first + i);
            }
        }
        scope.width = Math.max(schema.size(), Math.max(scope.origin + 1, from.isInput() ? 0 : passedOn));
        scope.fileName = from.isInput() ? schema.size() : -1;
        scope.level = from.levels();
        scope.periods.putAll(from.periods());
        return scope;
    }

    @Nullable
    Seen find(String name) {
        Seen seen = fields.getOrDefault(name, aliases.get(name));
        return seen == null && fileName >= 0 && name.equals(FILE_NAME) ? new Seen(fileName, Type.TEXT) : seen;
    }

    /** The names of visible fields and other names for slots. */
    List<String> reachable() {
        List<String> all = new ArrayList<>(fields.keySet());
        aliases.keySet().stream().filter(a -> a.charAt(0) != TablePlan.HIDDEN).forEach(all::add);
        return all;
    }

    List<String> names() {
        return List.copyOf(fields.keySet());
    }

    /** Leaves the slots before one to others. */
    void reserve(int slots) {
        width = Math.max(width, slots);
    }

    /** A slot that nobody uses yet. */
    int newSlot() {
        return width++;
    }

    int width() {
        return width;
    }

    /** Makes a name visible, where it stood before or at the end. */
    void put(String name, Seen seen) {
        fields.put(name, seen);
        periods.remove(name);
    }

    /** Gives fields other names, each where it stands. */
    void rename(Map<String, String> names) {
        LinkedHashMap<String, Seen> renamed = new LinkedHashMap<>();
        fields.forEach((name, seen) -> renamed.put(names.getOrDefault(name, name), seen));
        Map<String, Unit> moved = new HashMap<>();
        periods.forEach((name, unit) -> moved.put(names.getOrDefault(name, name), unit));
        fields.clear();
        fields.putAll(renamed);
        periods.clear();
        periods.putAll(moved);
    }

    /** Starts anew after a step that made new rows. */
    void restart(int slots) {
        fields.clear();
        marks.clear();
        texts.clear();
        aliases.clear();
        fileName = -1;
        origin = -1;
        width = slots;
    }

    /** Another name for a slot, which does not make it a visible field. */
    void alias(String name, Seen seen) {
        aliases.put(name, seen);
    }

    /** Notes that what stands in a slot is not shown where another slot is true. */
    void hide(int slot, int mark) {
        marks.put(slot, mark);
    }

    /** The slot that says where a slot is not shown, or -1. */
    int mark(int slot) {
        return marks.getOrDefault(slot, -1);
    }

    /** The visible fields that are hidden in some rows. */
    List<TablePlan.Mark> hidden() {
        List<TablePlan.Mark> hidden = new ArrayList<>();
        List<Integer> slots = slots();
        for (int i = 0; i < slots.size(); i++) {
            if (mark(slots.get(i)) >= 0) {
                hidden.add(new TablePlan.Mark(i, mark(slots.get(i)), TablePlan.Mark.Says.HIDDEN, ""));
            }
        }
        return hidden;
    }

    /** Notes that a slot holds a text field of an input, unchanged. */
    void text(int slot, @Nullable InputField field) {
        if (field != null) {
            texts.put(slot, field);
        }
    }

    /** The text field of an input that a slot holds unchanged, or null. */
    @Nullable
    InputField text(int slot) {
        return texts.get(slot);
    }

    /** Rows get values in their fields that no record has, such as the name of a rest. */
    void forgetTexts() {
        texts.clear();
    }

    /** The visible fields, by place, that are a text field of an input, unchanged. */
    Map<Integer, InputField> texts() {
        Map<Integer, InputField> visible = new HashMap<>();
        List<Integer> slots = slots();
        for (int i = 0; i < slots.size(); i++) {
            InputField field = texts.get(slots.get(i));
            if (field != null) {
                visible.put(i, field);
            }
        }
        return visible;
    }

    /** Says that further fields will come from the data. */
    void columnsFromData() {
        columnsFromData = true;
    }

    /** Whether there will be fields that nobody can name yet. */
    boolean hasColumnsFromData() {
        return columnsFromData;
    }

    /** Notes the fields that a grouping loses, with the line of its {@code give}. */
    void lose(int line) {
        fields.keySet().forEach(name -> lost.put(name, line));
    }

    /** Notes that a name was dropped. */
    void drop(String name, int line) {
        fields.remove(name);
        dropped.put(name, line);
    }

    /** The line of the {@code drop} that took a name away, or null. */
    @Nullable
    Integer droppedAt(String name) {
        return dropped.get(name);
    }

    /** The line of the {@code give} that lost a name, or null. */
    @Nullable
    Integer lostAt(String name) {
        return lost.get(name);
    }

    Level level() {
        return level;
    }

    void level(Level now) {
        level = now;
    }

    Map<String, Unit> periods() {
        return periods;
    }

    Schema schema() {
        List<Field> list = new ArrayList<>();
        fields.forEach((name, seen) -> list.add(new Field(name, seen.type())));
        return new Schema(list);
    }

    List<Integer> slots() {
        return fields.values().stream().map(Seen::slot).toList();
    }

    /** The names of the visible fields that an expression reads, by slot. */
    Map<Integer, String> read(dev.fiesta.compute.Expression value) {
        Set<Integer> slots = new java.util.HashSet<>();
        value.fields(slots::add);
        Map<Integer, String> names = new HashMap<>();
        fields.forEach((name, seen) -> {
            if (slots.contains(seen.slot())) {
                names.putIfAbsent(seen.slot(), name);
            }
        });
        return names;
    }

    /** The slot that tells where a record comes from, or -1. */
    int origin() {
        return origin;
    }

    /** The slots that make a row the one it is: its origin, the keys of its group, or none that is known. */
    List<Integer> identity() {
        if (origin >= 0) {
            return List.of(origin);
        }
        List<String> keys = level.keys();
        boolean known = keys != null && fields.keySet().containsAll(keys);
        return keys != null && known
                ? keys.stream()
                        .map(k -> Objects.requireNonNull(fields.get(k)).slot())
                        .toList()
                : List.of();
    }

    /** What a row is, for a sentence. */
    String rowIs() {
        List<String> keys = level.keys();
        return keys == null
                ? "a record"
                : keys.isEmpty() ? "the one group of all" : "a group of " + String.join(", ", keys);
    }
}
