package dev.fiesta.source;

/**
 * A query that an input was read by.
 *
 * @param database the name of the connection
 * @param query as written
 * @param rows how many it gave
 * @param fingerprint of all rows, whatever their order
 */
public record Asked(String database, String query, long rows, String fingerprint) {}
