package dev.fiesta.progress;

/**
 * Where a run stands.
 *
 * @param phase what is done: {@code reading sales}, {@code weekly: sort}
 * @param rows the rows read in this phase, or those it works on
 * @param share the part of the phase that is done, from 0 to 1; negative where nobody knows
 */
public record Progress(String phase, long rows, double share) {}
