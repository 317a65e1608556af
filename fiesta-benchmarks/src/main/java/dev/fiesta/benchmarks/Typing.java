package dev.fiesta.benchmarks;

import dev.fiesta.Fiesta;
import dev.fiesta.editing.KnownInput;
import dev.fiesta.editing.UnfinishedBrief;
import dev.fiesta.examples.Ribera;
import dev.fiesta.language.BriefText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.IntUnaryOperator;

/** How long somebody who types waits: a brief of 300 lines over the demo's records, asked at many places. */
final class Typing {
    private static final int TABLES = 42;
    private static final int TIMES = 400;

    private Typing() {}

    static void compare() throws IOException {
        Path folder = Files.createTempDirectory("typing");
        Ribera.unpack(folder);
        KnownInput sales;
        try (Fiesta fiesta = Fiesta.open()) {
            sales = KnownInput.of(fiesta.readAll(folder + "/sales-*.csv").survey());
        }
        UnfinishedBrief.Around around =
                new UnfinishedBrief.Around(List.of(), Map.of("sales", sales), List.of("csv"), folder);
        String text = text();
        told(
                "read and judged after a key",
                text,
                at -> of(text, around).problems().size());
        UnfinishedBrief brief = of(text, around);
        told("completion", text, at -> brief.candidates(at).size());
        told(
                "completion after a key",
                text,
                at -> of(text, around).candidates(at).size());
        told("what a word is", text, at -> brief.explanation(at) == null ? 0 : 1);
        told("all names", text, at -> of(text, around).occurrences().size());
    }

    private static UnfinishedBrief of(String text, UnfinishedBrief.Around around) {
        return UnfinishedBrief.of(new BriefText("long.brief", text), around);
    }

    private static String text() {
        StringBuilder text = new StringBuilder("input sales from 'sales-*.csv'\n");
        for (int i = 0; i < TABLES; i++) {
            text.append("\ntable t")
                    .append(i)
                    .append(" from sales\n")
                    .append("  only status = 'settled' and amount > ")
                    .append(i)
                    .append('\n')
                    .append("  add net = amount - fee, week = start_of_week(sold_at)\n")
                    .append("  per site, stall, week\n")
                    .append("    give takings = sum(net), sales = count(), mean = mean(net), most = max(amount)\n")
                    .append("  add place = rank(within site along takings desc)\n");
        }
        return text.toString();
    }

    private static void told(String what, String text, IntUnaryOperator ask) {
        double[] times = new double[TIMES];
        long answers = 0;
        for (int i = -TIMES; i < TIMES; i++) {
            int at = (int) ((i + TIMES) * 7919L % text.length());
            long start = System.nanoTime();
            answers += ask.applyAsInt(at);
            if (i >= 0) {
                times[i] = (System.nanoTime() - start) / 1e6;
            }
        }
        Arrays.sort(times);
        System.out.printf(
                Locale.ROOT,
                "| %s | %d lines | %.1f ms | %.1f ms | %.1f ms | %d |%n",
                what,
                text.lines().count(),
                times[TIMES / 2],
                times[TIMES * 99 / 100],
                times[TIMES - 1],
                answers);
    }
}
