package dev.fiesta.store;

import dev.fiesta.progress.Watch;

/**
 * What a run may use, and who watches it.
 *
 * @param threads the number of workers, at least 1
 * @param memory what it may hold
 */
public record Resources(int threads, Memory memory, Watch watch) {}
