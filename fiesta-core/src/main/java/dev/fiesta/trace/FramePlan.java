package dev.fiesta.trace;

import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Nodes;
import dev.fiesta.language.Span;
import dev.fiesta.problem.RequestException;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * The rows in the frame of a moving figure. The figure's own call is asked for a list of row numbers instead: the same
 * partition, order and frame, so what is shown is what was gathered.
 */
public final class FramePlan {
    public static final String NUMBER = "\u0001number";
    public static final String FRAME = "\u0001frame";
    private static final String SEPARATOR = "\u0001,";

    private final Definition where;
    private final Planned planned;

    FramePlan(Definition where, Planned planned) {
        this.where = where;
        this.planned = planned;
    }

    /**
     * The rows of the table that a figure walks over: each with its number, {@link #NUMBER}, and the numbers of the rows in its frame,
     * {@link #FRAME}, as {@link #numbers} reads them.
     *
     * @throws RequestException when the figure has no frame
     */
    TablePlan of(String figure) {
        List<Clause> clauses = where.table().clauses();
        int place = clauses.size();
        Expr.Call call = null;
        for (int i = clauses.size() - 1; i >= 0 && call == null; i--) {
            if (clauses.get(i) instanceof Clause.Add add) {
                for (Assign assign : add.fields()) {
                    if (assign.name().equals(figure)) {
                        call = framed(assign.value());
                        place = i;
                    }
                }
            }
        }
        if (call == null) {
            throw new RequestException("'" + figure + "' of '"
                    + where.table().name().name() + "' is no moving figure: no 'add' of the table gives it a frame.");
        }
        return plan(clauses.subList(0, place), call);
    }

    /** The places of the rows in a frame, from 0, in the order in which the figure walks; the first 1,000 of a longer one. */
    public static List<Integer> numbers(@Nullable Object listed) {
        List<Integer> wanted = new ArrayList<>();
        for (String number : String.valueOf(listed == null ? "" : listed).split(SEPARATOR)) {
            if (!number.isEmpty() && !number.equals("…")) {
                wanted.add(Integer.parseInt(number) - 1);
            }
        }
        return wanted;
    }

    /** The call with a frame in an expression, or null. */
    private static Expr.@Nullable Call framed(Expr value) {
        Expr.Call[] found = new Expr.Call[1];
        Nodes.each(value, e -> {
            if (e instanceof Expr.Call call && call.modifiers().frame() != null) {
                found[0] = call;
            }
        });
        return found[0];
    }

    /** The clauses before the figure, then each row's number and the numbers of the rows in its frame. */
    private TablePlan plan(List<Clause> before, Expr.Call call) {
        Span at = call.at();
        List<Clause> clauses = new ArrayList<>(before);
        clauses.add(BehindPlan.numbered(NUMBER, List.of(), at));
        Expr.Frame frame = Objects.requireNonNull(call.modifiers().frame());
        Expr.Frame plain =
                new Expr.Frame(frame.from(), frame.to(), frame.span(), frame.forward(), false, 0, frame.at());
        Expr.Modifiers modifiers = new Expr.Modifiers(
                call.modifiers().only(),
                call.modifiers().within(),
                call.modifiers().along(),
                plain);
        Expr text = new Expr.Call("text", List.of(new Expr.Name(NUMBER, at)), Expr.Modifiers.NONE, at, at);
        Expr gap = new Expr.Literal(Type.TEXT, SEPARATOR, at);
        Expr list = new Expr.Call("list", List.of(text, gap), modifiers, at, at);
        clauses.add(new Clause.Add(List.of(new Assign(FRAME, list, at, true)), at));
        return planned.like(where, where.table().name().name() + TablePlan.HIDDEN + "frame", clauses, planned.plans());
    }
}
