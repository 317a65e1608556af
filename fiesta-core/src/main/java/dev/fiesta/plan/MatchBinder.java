package dev.fiesta.plan;

import dev.fiesta.compute.Types;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Ref;
import dev.fiesta.problem.Names;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;

/** Settles {@code match}. */
final class MatchBinder {
    private final Context context;
    private final Scope scope;
    private final StepList steps;
    private final TablePlan other;

    MatchBinder(Context context, Scope scope, StepList steps, TablePlan other) {
        this.context = context;
        this.scope = scope;
        this.steps = steps;
        this.other = other;
    }

    void bind(Clause.Match clause, String place) {
        List<Integer> ours = new ArrayList<>();
        List<Integer> theirs = new ArrayList<>();
        for (Clause.KeyPair pair : clause.keys()) {
            pair(pair.ours(), pair.theirs(), ours, theirs, false);
        }
        int latestOurs = -1;
        int latestTheirs = -1;
        if (clause.latest() != null) {
            pair(clause.latest().ours(), clause.latest().theirs(), ours, theirs, true);
            latestOurs = ours.remove(ours.size() - 1);
            latestTheirs = theirs.remove(theirs.size() - 1);
        }
        List<MatchStep.Brought> bring = new ArrayList<>();
        List<String> names = new ArrayList<>();
        for (Clause.Brought brought : clause.bring()) {
            int place1 = theirs(brought.field());
            if (scope.find(brought.as()) != null || names.contains(brought.as())) {
                throw context.complaint(
                        brought.field().at(),
                        "There is a field '" + brought.as() + "' already.",
                        "Bring it under another name: " + brought.field().name() + " as their_" + brought.as() + ".");
            }
            names.add(brought.as());
            bring.add(new MatchStep.Brought(
                    place1, scope.newSlot(), other.schema().type(place1)));
        }
        if (bring.isEmpty()
                && clause.unmatched() != Clause.Unmatched.MATCHED_ONLY
                && clause.unmatched() != Clause.Unmatched.UNMATCHED_ONLY
                && clause.unmatched() != Clause.Unmatched.REQUIRED) {
            throw context.complaint(
                    clause.at(),
                    "This look-up brings nothing and keeps every row, so it does nothing.",
                    "Add 'bring' and the fields wanted, or 'matched only', 'unmatched only' or 'required'.");
        }
        steps.add(new MatchStep(
                clause.each(), other, ours, theirs, latestOurs, latestTheirs, bring, clause.unmatched(), place));
        for (int i = 0; i < bring.size(); i++) {
            scope.put(
                    names.get(i),
                    new Scope.Seen(bring.get(i).slot(), bring.get(i).type()));
            scope.text(bring.get(i).slot(), other.text(bring.get(i).theirs()));
        }
    }

    private void pair(Ref our, Ref their, List<Integer> ours, List<Integer> theirs, boolean order) {
        Scope.Seen seen = scope.find(our.name());
        if (seen == null) {
            throw RowSurroundings.unknown(context, scope, "match", LaterFigures.NONE, our.name(), our.at());
        }
        int place = theirs(their);
        Type type = other.schema().type(place);
        boolean fits = seen.type().isExact() && type.isExact()
                || seen.type().kind() == type.kind()
                || seen.type().kind() == Kind.EMPTY
                || type.kind() == Kind.EMPTY;
        if (!fits || Types.common(seen.type(), type) == null) {
            throw context.complaint(
                    our.at(),
                    "'" + our.name() + "' is " + seen.type().withArticle() + ", but '" + their.name() + "' of '"
                            + other.shownName() + "' is " + type.withArticle() + ", so "
                            + (order ? "neither lies before the other." : "they never match."),
                    "Convert one of them with 'add' before, or declare its type in 'fields'.");
        }
        ours.add(seen.slot());
        theirs.add(place);
    }

    private int theirs(Ref field) {
        int place = other.schema().indexOf(field.name());
        if (place < 0) {
            throw context.complaint(
                    field.at(),
                    "'" + other.shownName() + "' has no field '" + field.name() + "'.",
                    Names.didYouMean(field.name(), other.schema().names(), "It has"));
        }
        return place;
    }
}
