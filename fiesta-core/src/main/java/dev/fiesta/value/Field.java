package dev.fiesta.value;

/**
 * One named column of records.
 *
 * @param name the name; case matters
 * @param type the type of its values
 */
public record Field(String name, Type type) {}
