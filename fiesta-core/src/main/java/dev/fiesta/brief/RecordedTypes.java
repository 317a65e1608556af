package dev.fiesta.brief;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Parser;
import dev.fiesta.language.Printer;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** Fields of inputs with the types that a run once used, so that new files are read as the old ones were. */
public final class RecordedTypes {
    private RecordedTypes() {}

    /** @param types for each input the types by field; {@code empty} ones stay to be worked out */
    public static BriefTree declared(BriefTree brief, Map<String, Map<String, String>> types) {
        List<BriefTree.Input> inputs = new ArrayList<>();
        for (BriefTree.Input input : brief.inputs()) {
            inputs.add(declared(input, types.getOrDefault(input.name().name(), Map.of())));
        }
        return new BriefTree(
                brief.source(),
                brief.title(),
                brief.settings(),
                brief.uses(),
                brief.parameters(),
                inputs,
                brief.tables(),
                brief.report());
    }

    private static BriefTree.Input declared(BriefTree.Input input, Map<String, String> types) {
        Set<String> known = input.fields().stream().map(f -> f.name().name()).collect(Collectors.toSet());
        List<BriefTree.FieldDef> fields = new ArrayList<>(input.fields());
        types.forEach((name, type) -> {
            if (!known.contains(name) && !type.equals("empty")) {
                fields.add(field(name, type));
            }
        });
        return input.with(fields);
    }

    private static BriefTree.FieldDef field(String name, String type) {
        String text = "input i from 'x' fields " + Printer.name(name) + " " + type;
        return Parser.brief(new BriefText("record", text))
                .inputs()
                .get(0)
                .fields()
                .get(0);
    }
}
