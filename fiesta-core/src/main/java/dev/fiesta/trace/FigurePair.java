package dev.fiesta.trace;

import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Op;
import dev.fiesta.problem.RequestException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A figure as what it is made of: a sum or a count with the number of its values, or a mean or another ratio of such with both of its sides.
 *
 * @param ratio whether it is a ratio
 * @param above what is added up
 * @param base the number of values, or what is divided by
 */
public record FigurePair(boolean ratio, Expr above, Expr base) {
    /** The fields that hold both beside the rows. */
    public static final String ABOVE = "added up";

    public static final String BASE = "divided by";

    /**
     * @param clauses of the table
     * @throws RequestException when the figure is made otherwise
     */
    static FigurePair of(String table, String figure, List<Clause> clauses) {
        Map<String, Expr> known = new LinkedHashMap<>();
        for (Clause clause : clauses.subList(grouping(table, clauses), clauses.size())) {
            if (clause instanceof Clause.Per per) {
                per.figures().stream()
                        .filter(f -> f instanceof Clause.Single)
                        .map(f -> ((Clause.Single) f).figure())
                        .forEach(a -> known.put(a.name(), a.value()));
            } else if (clause instanceof Clause.Add add) {
                add.fields().forEach(a -> known.put(a.name(), a.value()));
            }
        }
        Expr value = known.get(figure);
        FigurePair pair = value == null ? null : of(value, known);
        if (pair == null) {
            throw new RequestException(
                    "The parts of '" + figure + "' in '" + table
                            + "' cannot be told: it is no figure that is a sum, a count, a mean, or a sum or count over another.");
        }
        return pair;
    }

    /** The place of the last grouping. */
    private static int grouping(String table, List<Clause> clauses) {
        for (int i = clauses.size() - 1; i >= 0; i--) {
            if (clauses.get(i) instanceof Clause.Per per) {
                if (!per.against().isEmpty()) {
                    throw new RequestException(
                            "'" + table + "' lays groups out as columns; ask a table without 'against'.");
                }
                return i;
            }
        }
        throw new RequestException("'" + table + "' has no 'per': its rows are no groups that could move a figure.");
    }

    private static @Nullable FigurePair of(Expr value, Map<String, Expr> known) {
        if (value instanceof Expr.Binary division && division.op() == Op.DIVIDED) {
            Expr above = added(division.left(), known);
            Expr base = added(division.right(), known);
            return above == null || base == null ? null : new FigurePair(true, above, base);
        }
        if (!(value instanceof Expr.Call call) || !isPlain(call)) {
            return null;
        }
        GatherFunction.MadeOf of = madeOf(call);
        return of == null ? null : new FigurePair(of.ratio(), like(call, of.above()), like(call, of.base()));
    }

    private static GatherFunction.@Nullable MadeOf madeOf(Expr.Call call) {
        GatherFunction function = GatherFunctions.find(call.name());
        return function == null ? null : function.madeOf();
    }

    /** A sum or a count, written there or by its name. */
    private static @Nullable Expr added(Expr side, Map<String, Expr> known) {
        Expr meant = side instanceof Expr.Name name ? known.get(name.name()) : side;
        GatherFunction.MadeOf of = meant instanceof Expr.Call call && isPlain(call) ? madeOf(call) : null;
        return of == null || of.ratio() ? null : meant;
    }

    private static boolean isPlain(Expr.Call call) {
        Expr.Modifiers modifiers = call.modifiers();
        return modifiers.within() == null && modifiers.along().isEmpty() && modifiers.frame() == null;
    }

    private static Expr like(Expr.Call call, String name) {
        return new Expr.Call(name, call.args(), call.modifiers(), call.at(), call.nameAt());
    }

    /** Clauses with both as two further figures; total rows, which are no groups, go. */
    List<Clause> beside(String table, List<Clause> clauses) {
        int place = grouping(table, clauses);
        Clause.Per per = (Clause.Per) clauses.get(place);
        List<Clause.Figure> figures = new ArrayList<>(per.figures());
        figures.add(new Clause.Single(new Assign(ABOVE, above, per.giveAt(), true)));
        figures.add(new Clause.Single(new Assign(BASE, base, per.giveAt(), true)));
        List<Clause> all = new ArrayList<>(clauses);
        all.set(place, new Clause.Per(per.keys(), per.against(), figures, true, per.giveAt(), per.at()));
        all.removeIf(c -> c instanceof Clause.Totals);
        return all;
    }
}
