package dev.fiesta.operate;

import dev.fiesta.problem.Notices;
import dev.fiesta.store.Memory;

/**
 * What operators stand on.
 *
 * @param others the tables that they look at
 * @param threads the number of workers, at least 1
 */
public record Ground(Others others, Notices notices, Memory memory, int threads) {}
