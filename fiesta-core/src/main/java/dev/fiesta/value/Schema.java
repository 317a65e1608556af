package dev.fiesta.value;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/**
 * The fields of a table, in order.
 *
 * @param fields the fields, no name twice
 */
public record Schema(List<Field> fields) {
    public Schema {
        fields = List.copyOf(fields);
        Set<String> met = new HashSet<>();
        for (Field field : fields) {
            if (!met.add(field.name())) {
                throw new IllegalArgumentException("the field '" + field.name() + "' stands twice");
            }
        }
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
        for (int i = 0; i < fields.size(); i++) {
            if (fields.get(i).name().equals(name)) {
                return i;
            }
        }
        return -1;
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
}
