package dev.fiesta.engine;

import dev.fiesta.problem.Notices;

/**
 * What operators stand on.
 *
 * @param others the tables that they look at
 * @param threads the number of workers, at least 1
 */
record Ground(Others others, Notices notices, Memory memory, int threads) {}
