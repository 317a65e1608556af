package dev.fiesta.report.page;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.report.text.Words;
import dev.fiesta.value.LocaleStyle;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** The first records behind each row of a table, as a page shows them. */
final class BehindRows {
    private final Result result;
    private final @Nullable Result samples;
    private final LocaleStyle locale;
    private final List<String> keys = new ArrayList<>();
    private final Map<List<@Nullable Object>, List<Integer>> places = new HashMap<>();

    /** @param samples records with the keys of their rows, or null for none */
    BehindRows(Result result, @Nullable Result samples, LocaleStyle locale) {
        this.result = result;
        this.samples = samples;
        this.locale = locale;
        if (samples != null) {
            result.view().stream()
                    .filter(v -> v.key() && samples.schema().indexOf(v.field()) >= 0)
                    .forEach(v -> keys.add(v.field()));
            for (int i = 0; i < samples.rows(); i++) {
                places.computeIfAbsent(key(samples, i), k -> new ArrayList<>()).add(i);
            }
        }
    }

    private List<@Nullable Object> key(Result from, int row) {
        List<@Nullable Object> key = new ArrayList<>();
        keys.forEach(k -> key.add(from.column(k).get(row)));
        return key;
    }

    /** Those behind a row. */
    List<Blocks.BehindTable> of(int at) {
        if (samples == null || keys.isEmpty()) {
            return List.of();
        }
        List<Integer> found = places.get(key(result, at));
        if (found == null) {
            return List.of();
        }
        List<String> heads = new ArrayList<>();
        List<CellFormat> formats = new ArrayList<>();
        for (ViewColumn view : samples.view()) {
            if (!keys.contains(view.field())) {
                heads.add(view.field());
                formats.add(new CellFormat(locale, view, samples.column(view.field())));
            }
        }
        List<List<String>> rows = new ArrayList<>();
        for (int record : found) {
            List<String> cells = new ArrayList<>();
            for (int c = 0; c < heads.size(); c++) {
                cells.add(formats.get(c).print(samples.column(heads.get(c)).get(record)));
            }
            rows.add(cells);
        }
        String title =
                Words.of(locale.tag()).get(found.size() == 1 ? "behind_one" : "behind", Integer.toString(found.size()));
        return List.of(new Blocks.BehindTable(title, heads, rows));
    }
}
