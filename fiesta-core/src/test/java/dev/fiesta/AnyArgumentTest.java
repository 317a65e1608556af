package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.fail;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.plan.Catalogue;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.DataException;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Every function over every sort of field in every place of its arguments: an answer or a sentence, never something raw. */
class AnyArgumentTest {
    private static final List<String> FIELDS =
            List.of("nothing", "whole", "price", "weight", "site", "day", "sold_at", "settled", "missing");
    private static final String HEAD = "nothing,whole,price,weight,site,day,sold_at,settled\n";
    private static final String ROWS = HEAD
            + ",3,1.50,2.5e0,Quay,2026-05-01,2026-05-01T18:30,true\n"
            + ",,,,,,,\n"
            + ",-2,10.25,-1.0e-3,Meadow,2026-05-04,2026-05-04T09:00,false\n"
            + ",0,0.00,0.0e0,Quay,2024-02-29,2024-02-29T00:00,\n";

    private final Table rows = Asking.table(ROWS, 1);
    private final Table none = Asking.table(HEAD, 1);

    static Stream<Entry> everyFunction() {
        return Catalogue.entries().stream().filter(e -> e.example().contains("("));
    }

    @ParameterizedTest
    @MethodSource
    void everyFunction(Entry entry) {
        int answers = 0;
        for (String call : calls(entry)) {
            for (String clause : clauses(entry, call)) {
                if (asked(rows, clause)) {
                    answers++;
                    asked(none, clause);
                }
            }
        }
        assertThat(answers).as(entry.name()).isPositive();
    }

    /** The example with one field after the other in place of each argument. */
    private static List<String> calls(Entry entry) {
        String example = entry.example();
        int open = example.indexOf('(');
        String inside = example.substring(open + 1, example.lastIndexOf(')'));
        int along = inside.indexOf("along");
        String tail = along < 0 ? "" : " along day";
        List<String> args =
                split(along < 0 ? inside : inside.substring(0, along).strip());
        args.replaceAll(a -> a.replace("takings", "price"));
        List<String> calls = new ArrayList<>();
        calls.add(example.substring(0, open + 1) + String.join(", ", args) + tail + ")");
        for (int i = 0; i < args.size(); i++) {
            for (String field : FIELDS) {
                List<String> others = new ArrayList<>(args);
                others.set(i, field);
                calls.add(example.substring(0, open + 1) + String.join(", ", others) + tail + ")");
            }
        }
        return calls;
    }

    private static List<String> split(String args) {
        List<String> parts = new ArrayList<>();
        int depth = 0;
        boolean quoted = false;
        StringBuilder part = new StringBuilder();
        for (char c : args.toCharArray()) {
            quoted ^= c == '\'';
            depth += c == '(' ? 1 : c == ')' ? -1 : 0;
            if (c == ',' && depth == 0 && !quoted) {
                parts.add(part.toString().strip());
                part.setLength(0);
            } else {
                part.append(c);
            }
        }
        if (!part.toString().isBlank()) {
            parts.add(part.toString().strip());
        }
        return parts;
    }

    private static List<String> clauses(Entry entry, String call) {
        String open = call.substring(0, call.length() - 1);
        return switch (entry.family()) {
            case GATHERING ->
                List.of(
                        "per site give x = " + call,
                        "per site give x = " + open + " only settled within all)",
                        "add x = " + open + " within site)",
                        "add x = " + open + " only settled within site along day last 2)",
                        "add x = " + open + " within all along day running)",
                        "per site, whole give x = " + call + " totals site, all");
            case WALKING -> List.of("add x = " + call, "add x = " + open.replace(" along", " within site along") + ")");
            default -> List.of("add x = " + call, "only " + call + " is missing");
        };
    }

    private static boolean asked(Table table, String clause) {
        try {
            table.then(clause).run().rows();
            return true;
        } catch (BriefException | DataException sentence) {
            assertThat(sentence.getMessage()).isNotBlank();
            return false;
        } catch (RuntimeException raw) {
            return fail(clause, raw);
        }
    }
}
