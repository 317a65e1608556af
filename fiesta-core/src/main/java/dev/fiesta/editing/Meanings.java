package dev.fiesta.editing;

import dev.fiesta.editing.Meaning.Kind;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.Assign;
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
 * lost from clause to clause. It is as long as the language has clauses: each has its method.
 */
final class Meanings implements Clause.Visitor<@Nullable Void> {
    private static final Pattern PLACE = Pattern.compile("\\{\\s*(:?)([^{}.\\s]+)(?:\\.([^{}\\s]+))?[^{}]*\\}");

    private final Parser.Loose brief;
    private final Map<String, TablePlan> plans;
    private final List<Occurrence> found = new ArrayList<>();
    private final Map<String, Meaning> tables = new LinkedHashMap<>();
    private final Map<String, Meaning> parameters = new LinkedHashMap<>();
    /** The fields of each table behind its last clause. */
    private final Map<String, Map<String, Meaning>> fields = new HashMap<>();
    /** The fields that stand before the clause that is looked at, and behind it once it has been. */
    private Map<String, Meaning> here = new LinkedHashMap<>();
    /** The place of each word, by where it starts. */
    private final Map<Integer, Integer> words = new HashMap<>();

    private String table = "";

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
                parameter.value().forEach(this::named);
            }
        }
        tree.inputs().forEach(this::input);
        tree.tables().forEach(this::table);
        if (tree.report() != null) {
            tree.report().forEach(this::piece);
        }
    }

    private Meaning made(Kind kind, Ref name, String origin) {
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
        table = def.name().name();
        reference(def.from());
        here = new LinkedHashMap<>(fields.getOrDefault(def.from().name(), Map.of()));
        TablePlan plan = plans.get(table);
        List<Clause> clauses = def.clauses();
        for (int i = 0; i < clauses.size(); i++) {
            clauses.get(i).<@Nullable Void>accept(this);
            if (plan != null && i < plan.written().size()) {
                reconcile(plan.written().get(i).schema(), clauses.get(i));
            }
        }
        tables.put(table, made(Kind.TABLE, def.name(), ""));
        fields.put(table, here);
    }

    /** What the clause was seen to make and lose is set right by what is known of it. */
    private void reconcile(Schema schema, Clause clause) {
        here.keySet().retainAll(schema.names());
        for (String name : schema.names()) {
            here.computeIfAbsent(name, n -> new Meaning(Kind.FIELD, n, clause.at(), false, "table " + table));
        }
    }

    private void reference(Ref ref) {
        Meaning meaning = tables.get(ref.name());
        if (meaning != null) {
            found.add(new Occurrence(ref.at(), meaning, false));
        }
    }

    private void field(Ref ref) {
        field(ref, here);
    }

    private void field(Ref ref, Map<String, Meaning> among) {
        Meaning meaning = among.get(ref.name());
        if (meaning != null) {
            found.add(new Occurrence(ref.at(), meaning, false));
        }
    }

    private Map<String, Meaning> fieldsOf(Ref other) {
        return fields.getOrDefault(other.name(), Map.of());
    }

    private void named(Expr expr) {
        Nodes.each(expr, node -> name(node, here));
    }

    private void name(Expr node, Map<String, Meaning> among) {
        if (node instanceof Expr.Name name) {
            field(new Ref(name.name(), name.at()), among);
        } else if (node instanceof Expr.Parameter parameter) {
            parameter(parameter.name(), parameter.at());
        }
    }

    private void parameter(String name, Span at) {
        Meaning meaning = parameters.get(name);
        if (meaning != null) {
            found.add(new Occurrence(new Span(at.end() - name.length(), at.end()), meaning, false));
        }
    }

    private void along(List<Expr.SortKey> keys) {
        keys.forEach(k -> named(k.key()));
    }

    private Meaning make(Ref name) {
        Meaning meaning = made(Kind.FIELD, name, "table " + table);
        here.put(name.name(), meaning);
        return meaning;
    }

    @Override
    public @Nullable Void only(Clause.Only clause) {
        named(clause.condition());
        return null;
    }

    @Override
    public @Nullable Void add(Clause.Add clause) {
        for (Assign assign : clause.fields()) {
            named(assign.value());
            make(new Ref(assign.name(), assign.at()));
        }
        return null;
    }

    @Override
    public @Nullable Void per(Clause.Per clause) {
        Map<String, Meaning> records = here;
        Map<String, Meaning> groups = new LinkedHashMap<>();
        List<Assign> keys = new ArrayList<>(clause.keys());
        clause.against().forEach(a -> keys.add(a.key()));
        for (Assign key : keys) {
            Nodes.each(key.value(), node -> name(node, records));
            Meaning kept = records.get(key.name());
            if (key.named()) {
                groups.put(key.name(), made(Kind.FIELD, new Ref(key.name(), key.at()), "table " + table));
            } else if (kept != null) {
                groups.put(key.name(), kept);
            }
        }
        here = groups;
        clause.against().forEach(a -> {
            if (a.choices() != null) {
                a.choices().forEach(this::named);
            }
        });
        for (Clause.Figure figure : clause.figures()) {
            figure(figure, records);
        }
        return null;
    }

    private void figure(Clause.Figure figure, Map<String, Meaning> records) {
        if (figure instanceof Clause.Single single) {
            Assign assign = single.figure();
            List<Span> gathered = gathered(assign.value());
            Nodes.each(assign.value(), node -> {
                boolean inside = gathered.stream()
                        .anyMatch(
                                s -> s.start() <= node.at().start() && node.at().end() <= s.end());
                name(node, inside ? records : here);
            });
            if (assign.named()) {
                make(new Ref(assign.name(), assign.at()));
            } else {
                here.put(assign.name(), new Meaning(Kind.FIELD, assign.name(), assign.at(), false, "table " + table));
            }
        } else if (figure instanceof Clause.Each each) {
            each.fields().forEach(f -> pattern(f, records));
        }
    }

    /** What stands in the brackets of gathering calls, where names are fields of records; behind {@code within} they are keys. */
    private static List<Span> gathered(Expr expr) {
        List<Span> spans = new ArrayList<>();
        Nodes.each(expr, node -> {
            if (node instanceof Expr.Call call && GatherFunctions.find(call.name()) != null) {
                call.args().forEach(a -> spans.add(a.at()));
                call.modifiers().along().forEach(k -> spans.add(k.key().at()));
                if (call.modifiers().only() != null) {
                    spans.add(call.modifiers().only().at());
                }
            }
        });
        return spans;
    }

    private void pattern(Clause.FieldPattern pattern, Map<String, Meaning> among) {
        if (!pattern.pattern() && !pattern.others()) {
            field(pattern.name(), among);
            if (pattern.to() != null) {
                field(pattern.to(), among);
            }
        }
    }

    @Override
    public @Nullable Void totals(Clause.Totals clause) {
        clause.by().forEach(this::field);
        return null;
    }

    @Override
    public @Nullable Void sort(Clause.Sort clause) {
        along(clause.keys());
        return null;
    }

    @Override
    public @Nullable Void first(Clause.First clause) {
        named(clause.count());
        clause.within().forEach(this::named);
        along(clause.along());
        return null;
    }

    @Override
    public @Nullable Void distinct(Clause.Distinct clause) {
        clause.fields().forEach(this::field);
        return null;
    }

    @Override
    public @Nullable Void sample(Clause.Sample clause) {
        named(clause.count());
        clause.within().forEach(this::named);
        return null;
    }

    @Override
    public @Nullable Void shuffle(Clause.Shuffle clause) {
        return null;
    }

    @Override
    public @Nullable Void match(Clause.Match clause) {
        reference(clause.table());
        Map<String, Meaning> theirs = fieldsOf(clause.table());
        for (Clause.KeyPair pair : clause.keys()) {
            field(pair.ours());
            if (pair.ours() == pair.theirs()) {
                meet(pair.ours().name(), here, theirs);
            } else {
                field(pair.theirs(), theirs);
            }
        }
        if (clause.latest() != null) {
            field(clause.latest().theirs(), theirs);
            field(clause.latest().ours());
        }
        for (Clause.Brought brought : clause.bring()) {
            field(brought.field(), theirs);
            Ref as = as(brought);
            Meaning same = theirs.get(brought.field().name());
            if (as != null) {
                make(as);
            } else if (same != null) {
                here.put(brought.as(), same);
            }
        }
        return null;
    }

    /** The name behind {@code as}, where one is written. */
    private @Nullable Ref as(Clause.Brought brought) {
        Integer place = words.get(brought.field().at().start());
        if (place == null || !brief.words().get(place + 1).text().equals("as")) {
            return null;
        }
        return new Ref(brought.as(), brief.words().get(place + 2).at());
    }

    private static void meet(String name, Map<String, Meaning> ours, Map<String, Meaning> theirs) {
        Meaning one = ours.get(name);
        Meaning other = theirs.get(name);
        if (one != null && other != null) {
            one.meets(other);
        }
    }

    @Override
    public @Nullable Void append(Clause.Append clause) {
        for (Ref other : clause.tables()) {
            reference(other);
            fieldsOf(other).forEach((name, meaning) -> {
                meet(name, here, fieldsOf(other));
                here.putIfAbsent(name, meaning);
            });
        }
        return null;
    }

    @Override
    public @Nullable Void gapless(Clause.Gapless clause) {
        field(clause.field());
        if (clause.within() != null) {
            clause.within().forEach(this::field);
        }
        if (clause.from() != null) {
            named(clause.from());
        }
        if (clause.to() != null) {
            named(clause.to());
        }
        if (clause.source() != null) {
            reference(clause.source());
            Map<String, Meaning> theirs = fieldsOf(clause.source());
            List.copyOf(here.keySet()).forEach(name -> meet(name, here, theirs));
        }
        return null;
    }

    @Override
    public @Nullable Void fill(Clause.Fill clause) {
        clause.fields().forEach(this::field);
        clause.within().forEach(this::named);
        along(clause.along());
        return null;
    }

    @Override
    public @Nullable Void turn(Clause.Turn clause) {
        clause.fields().forEach(this::field);
        clause.fields().forEach(f -> here.remove(f.name()));
        make(clause.name());
        make(clause.value());
        return null;
    }

    @Override
    public @Nullable Void rename(Clause.Rename clause) {
        Map<String, Meaning> made = new LinkedHashMap<>();
        for (Clause.Brought pair : clause.names()) {
            field(pair.field());
            Ref as = as(pair);
            if (as != null) {
                made.put(pair.as(), made(Kind.FIELD, as, "table " + table));
            }
        }
        clause.names().forEach(p -> here.remove(p.field().name()));
        here.putAll(made);
        return null;
    }

    @Override
    public @Nullable Void drop(Clause.Drop clause) {
        clause.fields().forEach(this::field);
        clause.fields().forEach(f -> here.remove(f.name()));
        return null;
    }

    @Override
    public @Nullable Void columns(Clause.Columns clause) {
        for (Clause.Shown shown : clause.columns()) {
            pattern(shown.field(), here);
            shown.notes().forEach(n -> {
                if (n.where() != null) {
                    named(n.where());
                }
            });
        }
        for (Clause.Course course : clause.courses()) {
            reference(course.table());
            Map<String, Meaning> theirs = fieldsOf(course.table());
            field(course.field(), theirs);
            field(course.along(), theirs);
            course.on().forEach(k -> {
                field(k);
                meet(k.name(), here, theirs);
            });
        }
        return null;
    }

    @Override
    public @Nullable Void check(Clause.Check clause) {
        named(clause.condition());
        return null;
    }

    @Override
    public @Nullable Void checkUnique(Clause.CheckUnique clause) {
        clause.fields().forEach(this::field);
        return null;
    }

    @Override
    public @Nullable Void checkRows(Clause.CheckRows clause) {
        named(clause.count());
        return null;
    }

    @Override
    public @Nullable Void checkSum(Clause.CheckSum clause) {
        field(clause.field());
        reference(clause.table());
        field(clause.theirs(), fieldsOf(clause.table()));
        return null;
    }

    @Override
    public @Nullable Void hide(Clause.Hide clause) {
        clause.figures().forEach(this::field);
        named(clause.condition());
        return null;
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
