package dev.fiesta.editing;

import dev.fiesta.editing.Meaning.Kind;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Nodes;
import dev.fiesta.language.Parser;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import dev.fiesta.language.Token;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Schema;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * What every name of a brief means, found by going through it as it is worked out: fields come from inputs, are made, renamed and
 * lost from clause to clause ({@link ClauseMeanings}).
 */
final class Meanings {
    private static final Pattern PLACE = Pattern.compile("\\{\\s*(:?)([^{}.\\s]+)(?:\\.([^{}\\s]+))?[^{}]*\\}");

    private final Parser.Loose brief;
    private final Map<String, TablePlan> plans;
    private final List<Occurrence> found = new ArrayList<>();
    private final Map<String, Meaning> tables = new LinkedHashMap<>();
    private final Map<String, Meaning> parameters = new LinkedHashMap<>();
    /** The fields of each table behind its last clause. */
    private final Map<String, Map<String, Meaning>> fields = new HashMap<>();
    /** The place of each word, by where it starts. */
    private final Map<Integer, Integer> words = new HashMap<>();

    private Meanings(Parser.Loose brief, Map<String, TablePlan> plans) {
        this.brief = brief;
        this.plans = plans;
        for (int i = 0; i < brief.words().size(); i++) {
            words.put(brief.words().get(i).at().start(), i);
        }
    }

    /**
     * @param used the briefs that it uses
     * @param plans what is known of its inputs and tables
     * @return all names, in the order of the text
     */
    static List<Occurrence> of(Parser.Loose brief, List<BriefTree> used, Map<String, TablePlan> plans) {
        Meanings meanings = new Meanings(brief, plans);
        used.forEach(meanings::elsewhere);
        meanings.all();
        return meanings.found.stream()
                .sorted(Comparator.comparingInt(o -> o.at().start()))
                .distinct()
                .toList();
    }

    /** What another brief makes can be named, but stands in another text. */
    private void elsewhere(BriefTree other) {
        String where = "'" + other.source().name() + "'";
        other.parameters()
                .forEach(p -> parameters.put(
                        p.name().name(), new Meaning(Kind.PARAMETER, p.name().name(), null, false, where)));
        other.inputs().forEach(i -> foreign(i.name().name(), Kind.INPUT, where));
        other.tables().forEach(t -> foreign(t.name().name(), Kind.TABLE, where));
    }

    private void foreign(String name, Kind kind, String where) {
        tables.put(name, new Meaning(kind, name, null, false, where));
        Map<String, Meaning> known = new LinkedHashMap<>();
        TablePlan plan = plans.get(name);
        if (plan != null) {
            plan.schema().names().forEach(n -> known.put(n, new Meaning(Kind.FIELD, n, null, false, name)));
        }
        fields.put(name, known);
    }

    private void all() {
        BriefTree tree = brief.tree();
        for (BriefTree.ParameterDef parameter : tree.parameters()) {
            Meaning meaning = made(Kind.PARAMETER, parameter.name(), "");
            parameters.put(meaning.name(), meaning);
            if (parameter.value() != null) {
                parameter.value().forEach(v -> Nodes.each(v, node -> name(node, Map.of())));
            }
        }
        tree.inputs().forEach(this::input);
        tree.tables().forEach(this::table);
        if (tree.report() != null) {
            tree.report().forEach(this::piece);
        }
    }

    Meaning made(Kind kind, Ref name, String origin) {
        Meaning meaning = new Meaning(kind, name.name(), name.at(), true, origin);
        found.add(new Occurrence(name.at(), meaning, true));
        return meaning;
    }

    private void input(BriefTree.Input input) {
        String name = input.name().name();
        tables.put(name, made(Kind.INPUT, input.name(), ""));
        Map<String, Meaning> known = new LinkedHashMap<>();
        String origin = "input " + name;
        TablePlan plan = plans.get(name);
        Schema schema = plan == null ? new Schema(List.of()) : plan.schema();
        schema.names().forEach(n -> known.put(n, new Meaning(Kind.FIELD, n, null, false, origin)));
        input.fields().forEach(f -> known.put(f.name().name(), made(Kind.FIELD, f.name(), origin)));
        input.options().inside().slices().forEach(s -> {
            Meaning declared = known.get(s.name().name());
            if (declared != null && declared.defined() != null) {
                found.add(new Occurrence(s.name().at(), declared, false));
            } else {
                known.put(s.name().name(), made(Kind.FIELD, s.name(), origin));
            }
        });
        fields.put(name, known);
        for (int i = at(input.at().start()); i < at(input.at().end()); i++) {
            texts(brief.words().get(i));
        }
    }

    /** The place of the first word that starts there or behind. */
    private int at(int offset) {
        Integer place = words.get(offset);
        if (place != null) {
            return place;
        }
        int i = 0;
        while (i < brief.words().size() - 1 && brief.words().get(i).at().start() < offset) {
            i++;
        }
        return i;
    }

    private void table(BriefTree.TableDef def) {
        String table = def.name().name();
        reference(def.from());
        Map<String, Meaning> behind =
                new ClauseMeanings(this, table, fieldsOf(def.from())).behind(def.clauses(), plans.get(table));
        tables.put(table, made(Kind.TABLE, def.name(), ""));
        fields.put(table, behind);
    }

    void reference(Ref ref) {
        Meaning meaning = tables.get(ref.name());
        if (meaning != null) {
            found.add(new Occurrence(ref.at(), meaning, false));
        }
    }

    void field(Ref ref, Map<String, Meaning> among) {
        Meaning meaning = among.get(ref.name());
        if (meaning != null) {
            found.add(new Occurrence(ref.at(), meaning, false));
        }
    }

    Map<String, Meaning> fieldsOf(Ref other) {
        return fields.getOrDefault(other.name(), Map.of());
    }

    void name(Expr node, Map<String, Meaning> among) {
        if (node instanceof Expr.Name name) {
            field(new Ref(name.name(), name.at()), among);
        } else if (node instanceof Expr.Parameter parameter) {
            parameter(parameter.name(), parameter.at());
        }
    }

    void parameter(String name, Span at) {
        Meaning meaning = parameters.get(name);
        if (meaning != null) {
            found.add(new Occurrence(new Span(at.end() - name.length(), at.end()), meaning, false));
        }
    }

    /** The name behind {@code as}, where one is written. */
    @Nullable
    Ref as(Clause.Brought brought) {
        Integer place = words.get(brought.field().at().start());
        if (place == null || !brief.words().get(place + 1).text().equals("as")) {
            return null;
        }
        return new Ref(brought.as(), brief.words().get(place + 2).at());
    }

    private void piece(BriefTree.Piece piece) {
        Ref table = piece.table();
        if (table != null) {
            reference(table);
            piece.fields().forEach(f -> field(f, fieldsOf(table)));
        }
        piece.lines().forEach(this::line);
        for (int i = at(piece.at().start()); i < at(piece.at().end()); i++) {
            texts(brief.words().get(i));
        }
    }

    private void line(BriefTree.Marker line) {
        if (line.parameter() != null) {
            parameter(line.parameter().name(), line.parameter().at());
        }
        if (line.table() != null && line.field() != null) {
            reference(line.table());
            field(line.field(), fieldsOf(line.table()));
        }
    }

    /** Places in a text that are filled: {@code {:from_day}}, {@code {best.takings}}. */
    private void texts(Token word) {
        if (!word.is(Token.Kind.TEXT)) {
            return;
        }
        String written = brief.tree().source().at(word.at());
        Matcher place = PLACE.matcher(written);
        while (place.find()) {
            Span name = new Span(word.at().start() + place.start(2), word.at().start() + place.end(2));
            if (!place.group(1).isEmpty()) {
                parameter(place.group(2), name);
            } else if (place.group(3) != null) {
                Ref other = new Ref(place.group(2), name);
                reference(other);
                Span field =
                        new Span(word.at().start() + place.start(3), word.at().start() + place.end(3));
                field(new Ref(place.group(3), field), fieldsOf(other));
            }
        }
    }
}
