package dev.fiesta;

import dev.fiesta.plan.ParameterValues;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Texts;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Rows found by values of their fields that are told as texts. */
final class KeyedRow {
    private KeyedRow() {}

    /**
     * The place of the first row with these values.
     *
     * @param keys values as texts, {@code (missing)} for a missing one
     * @throws RequestException when there is none
     */
    static int find(String table, Result result, Map<String, String> keys) {
        for (int row = 0; row < result.rows(); row++) {
            if (has(result, row, keys)) {
                return row;
            }
        }
        throw new RequestException("'" + table + "' has no row with " + described(keys) + ".");
    }

    private static boolean has(Result result, int row, Map<String, String> wanted) {
        boolean same = true;
        for (Map.Entry<String, String> key : wanted.entrySet()) {
            int field = result.schema().indexOf(key.getKey());
            Object told = field < 0 || key.getValue().equals(Texts.MISSING_KEY)
                    ? null
                    : ParameterValues.read(result.schema().type(field), key.getValue());
            same &= field >= 0 && Objects.equals(result.row(row).get(key.getKey()), told);
        }
        return same;
    }

    /** {@code site=Quay, week=2026-05-04}. */
    private static String described(Map<String, String> keys) {
        return String.join(
                ", ",
                keys.entrySet().stream()
                        .map(e -> e.getKey() + "=" + e.getValue())
                        .toList());
    }

    /** All values of a row by the names of its fields. */
    static Map<String, @Nullable Object> values(Result result, int row) {
        Map<String, @Nullable Object> values = new LinkedHashMap<>();
        result.schema().names().forEach(n -> values.put(n, result.row(row).get(n)));
        return values;
    }
}
