package dev.fiesta.value;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** The fields of a table, in order; no name stands twice. */
public final class Schema {
    private final List<Field> fields;
    private final Map<String, Integer> places;

    /**
     * @param fields the fields
     * @throws IllegalArgumentException when a name stands twice
     */
    public Schema(List<Field> fields) {
        this.fields = List.copyOf(fields);
        this.places = new HashMap<>(fields.size() * 2);
        for (int i = 0; i < this.fields.size(); i++) {
            String name = this.fields.get(i).name();
            if (places.put(name, i) != null) {
                throw new IllegalArgumentException("the field '" + name + "' is there twice");
            }
        }
    }

    public List<Field> fields() {
        return fields;
    }

    public int size() {
        return fields.size();
    }

    public Field field(int index) {
        return fields.get(index);
    }

    public Type type(int index) {
        return fields.get(index).type();
    }

    /** The place of a field, or -1. */
    public int indexOf(String name) {
        return places.getOrDefault(name, -1);
    }

    public List<String> names() {
        return fields.stream().map(Field::name).toList();
    }

    /** This schema with further fields at the end. */
    public Schema plus(List<Field> more) {
        List<Field> all = new ArrayList<>(fields);
        all.addAll(more);
        return new Schema(all);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Schema schema && fields.equals(schema.fields);
    }

    @Override
    public int hashCode() {
        return fields.hashCode();
    }

    @Override
    public String toString() {
        return fields.toString();
    }
}
