package dev.fiesta.editing;

import dev.fiesta.editing.Meaning.Kind;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Nodes;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Schema;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * The names in the clauses of a table: each makes fields, renames or loses them. As long as the language has clauses, of which each has
 * its method.
 */
final class ClauseMeanings implements Clause.Visitor<@Nullable Void> {
    private final Meanings all;
    private final String table;
    /** The fields that stand before the clause that is looked at, and behind it once it has been. */
    private Map<String, Meaning> here;

    /** @param from the fields of the table that it starts from */
    ClauseMeanings(Meanings all, String table, Map<String, Meaning> from) {
        this.all = all;
        this.table = table;
        this.here = new LinkedHashMap<>(from);
    }

    /**
     * The fields behind the last clause.
     *
     * @param plan what is known of the table, or null
     */
    Map<String, Meaning> behind(List<Clause> clauses, @Nullable TablePlan plan) {
        for (int i = 0; i < clauses.size(); i++) {
            clauses.get(i).<@Nullable Void>accept(this);
            if (plan != null && i < plan.written().size()) {
                reconcile(plan.written().get(i).schema(), clauses.get(i));
            }
        }
        return here;
    }

    /** What the clause was seen to make and lose is set right by what is known of it. */
    private void reconcile(Schema schema, Clause clause) {
        here.keySet().retainAll(schema.names());
        for (String name : schema.names()) {
            here.computeIfAbsent(name, n -> new Meaning(Kind.FIELD, n, clause.at(), false, "table " + table));
        }
    }

    private void field(Ref ref) {
        all.field(ref, here);
    }

    private void named(Expr expr) {
        Nodes.each(expr, node -> all.name(node, here));
    }

    private void along(List<Expr.SortKey> keys) {
        keys.forEach(k -> named(k.key()));
    }

    private Meaning make(Ref name) {
        Meaning meaning = all.made(Kind.FIELD, name, "table " + table);
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
            Nodes.each(key.value(), node -> all.name(node, records));
            Meaning kept = records.get(key.name());
            if (key.named()) {
                groups.put(key.name(), all.made(Kind.FIELD, new Ref(key.name(), key.at()), "table " + table));
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
                all.name(node, inside ? records : here);
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
            all.field(pattern.name(), among);
            if (pattern.to() != null) {
                all.field(pattern.to(), among);
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
        all.reference(clause.table());
        Map<String, Meaning> theirs = all.fieldsOf(clause.table());
        for (Clause.KeyPair pair : clause.keys()) {
            field(pair.ours());
            if (pair.ours() == pair.theirs()) {
                meet(pair.ours().name(), here, theirs);
            } else {
                all.field(pair.theirs(), theirs);
            }
        }
        if (clause.latest() != null) {
            all.field(clause.latest().theirs(), theirs);
            field(clause.latest().ours());
        }
        for (Clause.Brought brought : clause.bring()) {
            all.field(brought.field(), theirs);
            Ref as = all.as(brought);
            Meaning same = theirs.get(brought.field().name());
            if (as != null) {
                make(as);
            } else if (same != null) {
                here.put(brought.as(), same);
            }
        }
        return null;
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
            all.reference(other);
            all.fieldsOf(other).forEach((name, meaning) -> {
                meet(name, here, all.fieldsOf(other));
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
            all.reference(clause.source());
            Map<String, Meaning> theirs = all.fieldsOf(clause.source());
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
            Ref as = all.as(pair);
            if (as != null) {
                made.put(pair.as(), all.made(Kind.FIELD, as, "table " + table));
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
            all.reference(course.table());
            Map<String, Meaning> theirs = all.fieldsOf(course.table());
            all.field(course.field(), theirs);
            all.field(course.along(), theirs);
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
        all.reference(clause.table());
        all.field(clause.theirs(), all.fieldsOf(clause.table()));
        return null;
    }

    @Override
    public @Nullable Void hide(Clause.Hide clause) {
        clause.figures().forEach(this::field);
        named(clause.condition());
        return null;
    }
}
