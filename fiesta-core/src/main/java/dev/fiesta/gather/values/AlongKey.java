package dev.fiesta.gather.values;

import dev.fiesta.value.Type;

/** A key along which rows stand. */
public record AlongKey(Type type, boolean descending) {}
