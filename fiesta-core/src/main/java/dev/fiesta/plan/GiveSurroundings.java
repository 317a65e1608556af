package dev.fiesta.plan;

import dev.fiesta.compute.Arguments;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Misuse;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.gather.values.AlongKey;
import dev.fiesta.language.Expr;
import dev.fiesta.step.GatherSpec;
import dev.fiesta.step.OrderKey;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** {@code give}: outside gathering calls a name is a key or an earlier figure, inside it is a record's field. */
final class GiveSurroundings implements ExprBinder.Surroundings {
    private final Context context;
    private final Scope records;
    private final List<String> keys;
    private final Map<String, Expression> known = new HashMap<>();
    private final List<GatherSpec> gathers = new ArrayList<>();

    GiveSurroundings(Context context, Scope records, List<String> keys) {
        this.context = context;
        this.records = records;
        this.keys = keys;
    }

    /** Makes a key or figure known to the figures that follow. */
    void know(String name, Expression value) {
        known.put(name, value);
    }

    /** The gathering calls met so far; the figure of the i-th stands in slot {@code keys + i}. */
    List<GatherSpec> gathers() {
        return gathers;
    }

    @Override
    public Expression name(Expr.Name node) {
        Expression value = known.get(node.name());
        if (value != null) {
            return value;
        }
        if (records.find(node.name()) != null) {
            String group = keys.isEmpty() ? "the one group of all" : "a group of " + String.join(", ", keys);
            throw context.complaint(
                    node.at(),
                    "'" + node.name() + "' has many values in " + group
                            + ", so a figure must say what becomes of them.",
                    "Gather them: sum(" + node.name() + "), mean(" + node.name() + "), first(" + node.name() + ") …");
        }
        Set<String> names = new LinkedHashSet<>(known.keySet());
        names.addAll(records.names());
        throw context.complaint(
                node.at(),
                "There is no field or figure '" + node.name() + "'.",
                Catalogue.proposal(node.name(), names));
    }

    @Override
    public Expression manyRows(Expr.Call node) {
        GatherFunction function = GatherFunctions.find(node.name());
        if (function == null) {
            throw context.complaint(
                    node.at(),
                    "'" + node.name() + "' walks from group to group, but in 'give' the groups are still being made.",
                    "Use 'add' after this 'give': add place = "
                            + context.text().at(node.at()).replaceAll("\\s+", " ") + ".");
        }
        if (node.modifiers().frame() != null) {
            throw context.complaint(
                    node.modifiers().frame().at(),
                    "A frame moves from row to row, but a figure of 'give' is one value for its group.",
                    "Use 'add' after this 'give' for moving figures.");
        }
        if (!node.modifiers().along().isEmpty() && !function.looksAtOrder()) {
            throw context.complaint(
                    node.at(),
                    "'" + node.name() + "' does not look at the order of rows, so 'along' means nothing to it.",
                    null);
        }
        ExprBinder inside = new ExprBinder(context, new Inside());
        List<Expression> args = node.args().stream().map(inside::bind).toList();
        GatherSpec spec;
        try {
            GatherFunction.Bound bound = function.rule().bind(new Arguments(args, context.calendar()));
            Expr only = node.modifiers().only();
            int[] wider = wider(node);
            List<OrderKey> along = node.modifiers().along().stream()
                    .flatMap(k -> context.order(inside.bind(k.key()), k.descending()).stream())
                    .toList();
            List<AlongKey> keys = along.stream()
                    .map(k -> new AlongKey(k.key().type(), k.descending()))
                    .toList();
            spec = new GatherSpec(
                    function,
                    keys.isEmpty() ? bound : bound.along(keys),
                    args,
                    only == null ? null : inside.condition(only),
                    function.isPart() && wider == null ? new int[0] : wider,
                    along,
                    context.place(node.at()));
        } catch (Misuse misuse) {
            throw context.misused(misuse, node.args().stream().map(Expr::at).toList(), node.at());
        }
        int place = 0;
        while (place < gathers.size() && !gathers.get(place).isSameAs(spec)) {
            place++;
        }
        if (place == gathers.size()) {
            gathers.add(spec);
        }
        return new FieldRef(keys.size() + place, spec.bound().type());
    }

    /** The places of the keys that {@code within} names. */
    private int @Nullable [] wider(Expr.Call node) {
        List<Expr> within = node.modifiers().within();
        if (within == null) {
            return null;
        }
        int[] places = new int[within.size()];
        for (int i = 0; i < places.length; i++) {
            Expr key = within.get(i);
            places[i] = key instanceof Expr.Name name ? keys.indexOf(name.name()) : -1;
            if (places[i] < 0) {
                throw context.complaint(
                        key.at(),
                        "'within' in a 'give' names keys of the grouping, and '"
                                + context.text().at(key.at()) + "' is none.",
                        "The keys are: "
                                + (keys.isEmpty() ? "none, so only 'within all' is left" : String.join(", ", keys))
                                + ".");
            }
        }
        return places;
    }

    /** Inside the brackets of a gathering call: the fields of a record. */
    private final class Inside implements ExprBinder.Surroundings {
        @Override
        public Expression name(Expr.Name node) {
            Scope.Seen seen = records.find(node.name());
            if (seen == null) {
                throw RowSurroundings.unknown(context, records, "give", LaterFigures.NONE, node.name(), node.at());
            }
            return new FieldRef(seen.slot(), seen.type());
        }

        @Override
        public Expression manyRows(Expr.Call node) {
            throw context.complaint(
                    node.at(),
                    "'" + node.name() + "' gathers many rows and cannot stand inside another gathering call.",
                    "Group twice: give it a name here, then let a second 'per … give' group the groups.");
        }
    }
}
