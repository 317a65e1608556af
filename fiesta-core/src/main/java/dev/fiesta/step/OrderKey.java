package dev.fiesta.step;

import dev.fiesta.compute.Expression;

/** One key of an order. */
public record OrderKey(Expression key, boolean descending) {}
