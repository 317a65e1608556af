package dev.fiesta.step;

import dev.fiesta.value.Type;
import java.util.List;
import java.util.Map;

/**
 * Rows worked out anew from the states of groups.
 *
 * @param group the step that gathered
 * @param replay what was done since: what is worked out row by row, and figures filled where nothing was gathered
 * @param missing slots that such rows cannot have, with their types
 */
public record Recomputed(GroupStep group, List<Step> replay, Map<Integer, Type> missing) {}
