package dev.fiesta.report.page;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;

/**
 * The blocks of a report as they fit on paper. A table that is too wide for a page turns it; one that is too wide for a turned page is broken into several, each with the
 * keys. The head of a page names the section that goes on where it begins. Widths are in points, reckoned from the number of characters and a little too large.
 */
final class PaperBlocks {
    private static final double UPRIGHT = 499;
    private static final double TURNED = 745;
    private static final double CHARACTER = 4.75;
    private static final double BOLD = 1.06;
    private static final double GAP = 11.4;
    private static final double BAR = 57;
    private static final double COURSE = 75;
    /** Texts that stand left break into lines; so many characters of them want one. */
    static final int WRAPPED = 34;

    private PaperBlocks() {}

    /** Wide tables turned or broken, headings on the page of what they announce, ends of pages with the section that begins behind them. */
    static List<Blocks.Block> fitted(List<Blocks.Block> blocks) {
        List<Blocks.Block> all = new ArrayList<>();
        for (Blocks.Block block : blocks) {
            if (block instanceof Blocks.Table table) {
                all.addAll(fitted(table));
            } else {
                all.add(block);
            }
        }
        for (int i = all.size() - 2; i >= 0; i--) {
            if (all.get(i) instanceof Blocks.Words words) {
                all.set(i, before(words, all.get(i + 1)));
            }
        }
        return all;
    }

    private static Blocks.Words before(Blocks.Words words, Blocks.Block next) {
        if (words.kind().equals("page")) {
            boolean heading = next instanceof Blocks.Words after && after.kind().equals("heading");
            return heading ? new Blocks.Words("page", words.id(), ((Blocks.Words) next).text()) : words;
        }
        boolean turned = words.kind().equals("heading") && isTurned(next);
        return new Blocks.Words(words.kind(), words.id(), words.text(), turned);
    }

    private static boolean isTurned(Blocks.Block block) {
        return block instanceof Blocks.Table table
                ? table.turned()
                : block instanceof Blocks.Words words && words.turned();
    }

    private static List<Blocks.Table> fitted(Blocks.Table table) {
        double[] widths = IntStream.range(0, table.heads().size())
                .mapToDouble(c -> width(table, c))
                .toArray();
        double whole = Arrays.stream(widths).sum();
        if (whole <= UPRIGHT) {
            return List.of(table);
        }
        List<List<Integer>> parts = whole <= TURNED
                ? List.of(IntStream.range(0, widths.length).boxed().toList())
                : parts(widths, Math.min(table.keys(), widths.length - 1));
        List<Blocks.Table> all = new ArrayList<>();
        for (List<Integer> columns : parts) {
            boolean turned = columns.stream().mapToDouble(c -> widths[c]).sum() > UPRIGHT;
            String number = parts.size() == 1 ? "" : " (" + (all.size() + 1) + "/" + parts.size() + ")";
            String id = all.isEmpty() ? table.id() : table.id() + "-" + (all.size() + 1);
            all.add(table.with(id, table.text() + number, columns, turned, all.size() + 1 == parts.size()));
        }
        return all;
    }

    /** The columns of each part: the keys, then as many others as have room, one at least. */
    private static List<List<Integer>> parts(double[] widths, int keys) {
        double ofKeys = Arrays.stream(widths, 0, keys).sum();
        List<List<Integer>> parts = new ArrayList<>();
        double used = 0;
        for (int c = keys; c < widths.length; c++) {
            if (parts.isEmpty() || used + widths[c] > TURNED) {
                parts.add(new ArrayList<>(IntStream.range(0, keys).boxed().toList()));
                used = ofKeys;
            }
            parts.get(parts.size() - 1).add(c);
            used += widths[c];
        }
        return parts;
    }

    private static double width(Blocks.Table table, int column) {
        Blocks.Head head = table.heads().get(column);
        boolean nowrap = head.looks().contains("right");
        int longest =
                head.looks().contains("brief") ? head.title().length() : longestWord(head.title() + " " + head.unit());
        double widest = longest * BOLD;
        double extra = 0;
        for (Blocks.Line line : table.rows()) {
            Blocks.Cell cell = line.cells().get(column);
            int length = cell.text().length() + cell.signs().length() + (cell.few() ? 1 : 0);
            int wanted = nowrap ? length : Math.min(length, WRAPPED);
            widest = Math.max(widest, wanted * (line.kind().equals("row") ? 1 : BOLD));
            extra = Math.max(extra, cell.bar() != null ? BAR : cell.course().isEmpty() ? 0 : COURSE);
        }
        return widest * CHARACTER + extra + GAP;
    }

    static int longestWord(String text) {
        return Arrays.stream(text.split("\\s+")).mapToInt(String::length).max().orElse(0);
    }
}
