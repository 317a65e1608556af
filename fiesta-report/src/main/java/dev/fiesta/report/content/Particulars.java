package dev.fiesta.report.content;

import dev.fiesta.report.text.Words;
import dev.fiesta.value.LocaleStyle;
import java.util.ArrayList;
import java.util.List;

/** What a report rests on: inputs with their records, parameters, what was counted, in the language of the brief. */
final class Particulars {
    /** Reasons are few where somebody can repair them. */
    private static final int MOST_REASONS = 12;

    private final Content report;
    private final LocaleStyle style;
    private final Words words;

    Particulars(Content report) {
        this.report = report;
        this.style = LocaleStyle.of(report.locale());
        this.words = Words.of(report.locale());
    }

    List<Content.Particular> all() {
        List<Content.Particular> all = new ArrayList<>();
        if (!Words.knows(report.locale())) {
            all.add(new Content.Particular(words.get("language"), words.get("no_words", report.locale())));
        }
        report.tables().files().forEach((name, files) -> {
            Long records = report.outcome().records().get(name);
            if (records != null) {
                String names = files.size() > 2
                        ? words.get(
                                "files",
                                Integer.toString(files.size()),
                                files.get(0).name(),
                                files.get(files.size() - 1).name())
                        : String.join(", ", files.stream().map(f -> f.name()).toList());
                all.add(new Content.Particular(words.get("input") + " " + name, names + ": " + records(records)));
            }
        });
        report.tables()
                .parameters()
                .forEach((name, value) -> all.add(new Content.Particular(words.get("parameter") + " " + name, value)));
        report.results().values().stream()
                .findFirst()
                .ifPresent(r -> r.notices()
                        .list()
                        .forEach(n -> all.add(new Content.Particular(words.get("counted"), n.text()))));
        report.outcome()
                .asides()
                .values()
                .forEach(aside -> aside.counts().entrySet().stream()
                        .limit(MOST_REASONS)
                        .forEach(e -> all.add(setAside(aside.input(), e.getKey(), e.getValue()))));
        return all;
    }

    /** @param what the field, or an empty text, and the reason */
    private Content.Particular setAside(String input, List<String> what, int count) {
        String field = what.get(0).isEmpty() ? "" : what.get(0) + " ";
        return new Content.Particular(
                words.get("set_aside"), input + ": " + records(count) + ": " + field + what.get(1));
    }

    private String records(long count) {
        return words.get(count == 1 ? "record" : "records", style.number(Long.toString(count)));
    }
}
