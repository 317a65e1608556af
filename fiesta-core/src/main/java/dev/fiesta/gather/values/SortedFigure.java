package dev.fiesta.gather.values;

import dev.fiesta.value.Type;
import java.util.function.ToDoubleFunction;

/**
 * A figure that is told from values in their order.
 *
 * @param type of the values
 * @param sums whether it asks for sums
 * @param figure works it out of one value at least
 */
public record SortedFigure(Type type, boolean sums, ToDoubleFunction<Sorted> figure) {}
