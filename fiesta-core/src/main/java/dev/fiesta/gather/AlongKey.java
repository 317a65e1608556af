package dev.fiesta.gather;

import dev.fiesta.value.Type;

/** A key along which rows stand. */
public record AlongKey(Type type, boolean descending) {}
