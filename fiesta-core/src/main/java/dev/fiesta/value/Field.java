package dev.fiesta.value;

/**
 * One named column of records.
 *
 * @param name the name; case matters
 * @param type the type of its values
 */
public record Field(String name, Type type) {
    // As of types: compared in every run.

    @Override
    public boolean equals(Object other) {
        return other instanceof Field field && field.name.equals(name) && field.type.equals(type);
    }

    @Override
    public int hashCode() {
        return name.hashCode() * 31 + type.hashCode();
    }
}
