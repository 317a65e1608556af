package dev.fiesta.report;

import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import de.siegmar.fastcsv.reader.FieldMismatchStrategy;
import dev.fiesta.Result;
import dev.fiesta.output.TextStyle;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Remedy;
import dev.fiesta.value.Texts;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.zip.GZIPInputStream;
import java.util.zip.ZipException;
import org.jspecify.annotations.Nullable;

/**
 * What differs between two states of a table: rows that only one of them has, and changed cells, the largest first.
 *
 * @param table its name
 * @param came fields that only the second has, {@code gone} those that only the first has
 * @param before rows that only the first has, by their keys; {@code after} those that only the second has
 * @param changes changed cells
 * @param same the number of rows that are equal
 */
public record Comparison(
        String table,
        List<String> came,
        List<String> gone,
        List<String> before,
        List<String> after,
        List<Change> changes,
        int same) {
    /**
     * A changed cell.
     *
     * @param key the keys of its row, {@code site=Quay, week=2026-05-04}
     * @param before empty when it was missing, {@code after} likewise
     * @param difference for two numbers the second less the first
     * @param relativeChange the difference as a part of the first, rounded to six places; null where that is zero
     */
    public record Change(
            String key,
            String field,
            String before,
            String after,
            @Nullable BigDecimal difference,
            @Nullable BigDecimal relativeChange) {}

    /** A table as text. */
    record Cells(String name, List<String> fields, List<List<String>> rows) {
        /** @param file delimited by commas, packed by gzip when its name says so */
        static Cells read(String name, Path file) {
            return read(name, file, Fingerprint.digest());
        }

        /** @param digest takes all bytes, unpacked */
        static Cells read(String name, Path file, MessageDigest digest) {
            try (InputStream in = Files.newInputStream(file);
                    InputStream plain = file.toString().endsWith(".gz") ? new GZIPInputStream(in) : in;
                    InputStream watched = new DigestInputStream(plain, digest)) {
                return parse(name, new InputStreamReader(watched, StandardCharsets.UTF_8));
            } catch (EOFException | ZipException e) {
                throw new DataException("'" + file.getFileName() + "' is packed, but cut off or damaged.");
            } catch (IOException | UncheckedIOException e) {
                throw new MachineException("'" + file.getFileName() + "' cannot be read", e);
            } catch (de.siegmar.fastcsv.reader.CsvParseException e) {
                throw new DataException("'" + file.getFileName() + "' is not delimited text: " + e.getMessage());
            }
        }

        static Cells of(Result result) {
            StringBuilder text = new StringBuilder();
            try {
                result.write(text, TextStyle.CSV);
                return parse(result.name(), new java.io.StringReader(text.toString()));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }

        private static Cells parse(String name, java.io.Reader from) throws IOException {
            List<String> fields = List.of();
            List<List<String>> rows = new ArrayList<>();
            try (CsvReader<CsvRecord> records = CsvReader.builder()
                    .skipEmptyLines(false)
                    .extraFieldStrategy(FieldMismatchStrategy.IGNORE)
                    .missingFieldStrategy(FieldMismatchStrategy.IGNORE)
                    .ofCsvRecord(from)) {
                for (CsvRecord line : records) {
                    if (fields.isEmpty()) {
                        fields = List.copyOf(line.getFields());
                    } else if (line.getFieldCount() == fields.size()) {
                        rows.add(List.copyOf(line.getFields()));
                    } else {
                        throw new DataException("'" + name + "', line " + line.getStartingLineNumber() + ": "
                                + line.getFieldCount() + (line.getFieldCount() == 1 ? " cell" : " cells")
                                + ", but the header has " + fields.size() + ".");
                    }
                }
            }
            return new Cells(name, fields, rows);
        }
    }

    /** {@return whether nothing differs} */
    public boolean isEqual() {
        return came.isEmpty() && gone.isEmpty() && before.isEmpty() && after.isEmpty() && changes.isEmpty();
    }

    /**
     * Compares two states of a table.
     *
     * @param keys the fields that make a row the one it is; without any, whole rows are compared
     * @throws DataException when a key stands twice, or is no field
     */
    static Comparison of(Cells first, Cells second, List<String> keys) {
        List<String> came = new ArrayList<>(second.fields());
        came.removeAll(first.fields());
        List<String> gone = new ArrayList<>(first.fields());
        gone.removeAll(second.fields());
        if (keys.isEmpty()) {
            return wholeRows(first, second, came, gone);
        }
        Map<String, List<String>> left = byKey(first, keys);
        Map<String, List<String>> right = byKey(second, keys);
        List<String> before =
                left.keySet().stream().filter(k -> !right.containsKey(k)).toList();
        List<String> after =
                right.keySet().stream().filter(k -> !left.containsKey(k)).toList();
        List<String> common = first.fields().stream()
                .filter(f -> second.fields().contains(f) && !keys.contains(f))
                .toList();
        List<Change> changes = new ArrayList<>();
        int same = 0;
        for (Map.Entry<String, List<String>> row : left.entrySet()) {
            List<String> now = right.get(row.getKey());
            if (now == null) {
                continue;
            }
            int had = changes.size();
            for (String field : common) {
                String old = row.getValue().get(first.fields().indexOf(field));
                String changed = now.get(second.fields().indexOf(field));
                if (!old.equals(changed)) {
                    changes.add(change(row.getKey(), field, old, changed));
                }
            }
            same += had == changes.size() ? 1 : 0;
        }
        changes.sort(Comparator.comparing(Comparison::size).reversed());
        return new Comparison(first.name(), came, gone, before, after, changes, same);
    }

    private static BigDecimal size(Change change) {
        return change.difference() == null
                ? BigDecimal.ZERO
                : change.difference().abs();
    }

    private static Change change(String key, String field, String before, String after) {
        BigDecimal old = number(before);
        BigDecimal now = number(after);
        if (old == null || now == null) {
            return new Change(key, field, before, after, null, null);
        }
        BigDecimal difference = now.subtract(old);
        BigDecimal relativeChange = old.signum() == 0
                ? null
                : difference.divide(old.abs(), MathContext.DECIMAL128).setScale(6, RoundingMode.HALF_EVEN);
        return new Change(key, field, before, after, difference, relativeChange);
    }

    private static @Nullable BigDecimal number(String text) {
        try {
            return text.isEmpty() ? null : new BigDecimal(text);
        } catch (NumberFormatException e) {
            return null;
        }
    }

    private static Map<String, List<String>> byKey(Cells table, List<String> keys) {
        int[] places = keys.stream()
                .mapToInt(k -> {
                    int place = table.fields().indexOf(k);
                    if (place < 0) {
                        throw new DataException(
                                "'" + table.name() + "' has no field '" + k + "', which is to be its key. "
                                        + dev.fiesta.problem.Names.didYouMean(k, table.fields(), "It has"));
                    }
                    return place;
                })
                .toArray();
        Map<String, List<String>> rows = new LinkedHashMap<>();
        for (List<String> row : table.rows()) {
            List<String> parts = new ArrayList<>();
            for (int k = 0; k < places.length; k++) {
                String value = row.get(places[k]);
                parts.add(keys.get(k) + "=" + (value.isEmpty() ? Texts.MISSING_KEY : value));
            }
            String key = String.join(", ", parts);
            if (rows.put(key, row) != null) {
                String twice = "The key " + key + " stands twice in '" + table.name()
                        + "'. Name the fields that make a row the one it is.";
                throw Remedy.offered(new DataException(twice), Remedy.Kind.ROW_KEYS, "");
            }
        }
        return rows;
    }

    private static Comparison wholeRows(Cells first, Cells second, List<String> came, List<String> gone) {
        Map<List<String>, Integer> times = new LinkedHashMap<>();
        first.rows().forEach(r -> times.merge(r, 1, Integer::sum));
        List<String> after = new ArrayList<>();
        int same = 0;
        for (List<String> row : second.rows()) {
            Integer left = times.get(row);
            if (left == null || left == 0) {
                after.add(String.join(", ", row));
            } else {
                times.put(row, left - 1);
                same++;
            }
        }
        List<String> before = new ArrayList<>();
        times.forEach((row, left) -> {
            for (int i = 0; i < left; i++) {
                before.add(String.join(", ", row));
            }
        });
        return new Comparison(first.name(), came, gone, before, after, List.of(), same);
    }
}
