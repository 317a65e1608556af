package dev.fiesta.report;

import dev.fiesta.report.terminal.TextTable;
import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** A survey in characters. */
final class SurveyText {
    private static final String HEIGHTS = "▁▂▃▄▅▆▇█";

    private final SurveyView view;
    private final int width;
    private final boolean colour;

    /**
     * @param width characters of a line
     * @param colour whether names are set off by terminal codes
     */
    SurveyText(SurveyView view, int width, boolean colour) {
        this.view = view;
        this.width = width;
        this.colour = colour;
    }

    void print(PrintWriter out) {
        out.println(TextTable.bold(view.title(), colour));
        out.println(view.lead());
        view.remarks().forEach(out::println);
        List<SurveyView.FieldView> fields = view.fields();
        int indent = Math.min(
                        24,
                        fields.stream().mapToInt(f -> f.name().length()).max().orElse(0))
                + 2;
        for (SurveyView.FieldView field : fields) {
            out.println();
            lines(field, indent).forEach(out::println);
        }
        List<SurveyView.Odd> oddities = view.oddities();
        if (!oddities.isEmpty()) {
            out.println();
            out.println(TextTable.bold(SurveyView.WORTH_A_LOOK, colour));
            for (SurveyView.Odd odd : oddities) {
                out.println("  " + odd.field() + ": " + odd.text() + ".");
                if (!odd.suggestion().isEmpty()) {
                    out.println("      " + odd.suggestion());
                }
            }
        }
    }

    private List<String> lines(SurveyView.FieldView field, int indent) {
        Map<String, String> facts = new LinkedHashMap<>();
        field.facts().forEach(f -> facts.put(f.name(), f.value()));
        String first = String.format(
                "%-14s%-26s%s",
                field.type(),
                facts.remove("missing") + " missing",
                facts.containsKey("distinct") ? facts.remove("distinct") + " distinct" : "");
        String range = facts.remove("from … to");
        List<String> second = new ArrayList<>();
        if (!field.bins().isEmpty()) {
            second.add(field.from() + " " + bars(field) + " " + field.to());
        } else if (range != null) {
            second.add(range);
        }
        facts.forEach((name, value) -> second.add(name + " " + value));
        List<String> values =
                field.values().stream().map(v -> v.text() + " " + v.share()).toList();
        String gap = " ".repeat(indent);
        List<String> lines = new ArrayList<>();
        lines.add(TextTable.bold(String.format("%-" + indent + "s", field.name() + " "), colour)
                + cut(first.stripTrailing(), width - indent));
        for (String more : List.of(String.join("   ", second), String.join(" · ", values))) {
            if (!more.isEmpty()) {
                lines.add(gap + cut(more, width - indent));
            }
        }
        return lines;
    }

    /** The strip in characters, a mark where the quartiles stand: below a line there is no room for them. */
    private static String bars(SurveyView.FieldView field) {
        StringBuilder bars = new StringBuilder();
        int highest =
                field.bins().stream().mapToInt(SurveyView.Bin::height).max().orElse(1);
        for (int i = 0; i < field.bins().size(); i++) {
            for (String tick : field.ticks()) {
                if (i == (int) (Double.parseDouble(tick) / 100 * field.bins().size())) {
                    bars.append('╎');
                    break;
                }
            }
            int height = field.bins().get(i).height();
            int step = Math.min(HEIGHTS.length() - 1, height * HEIGHTS.length() / (highest + 1));
            bars.append(height == 0 ? ' ' : HEIGHTS.charAt(step));
        }
        return bars.toString();
    }

    private static String cut(String text, int width) {
        return text.length() <= width ? text : text.substring(0, Math.max(1, width - 1)) + "…";
    }
}
