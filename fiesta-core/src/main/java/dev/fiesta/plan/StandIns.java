package dev.fiesta.plan;

import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;

/** What a clause would have made that is wrong: names of which nothing is known, so that no second problem follows from the first. */
final class StandIns {
    private StandIns() {}

    /** The names that a clause makes, as far as they are written. */
    static List<String> names(Clause clause) {
        List<String> names = new ArrayList<>();
        if (clause instanceof Clause.Match match) {
            match.bring().forEach(b -> names.add(b.as()));
        } else if (clause instanceof Clause.Rename rename) {
            rename.names().forEach(p -> names.add(p.as()));
        } else if (clause instanceof Clause.Turn turn) {
            names.add(turn.name().name());
            names.add(turn.value().name());
        } else if (clause instanceof Clause.Per per) {
            per.keys().forEach(k -> names.add(k.name()));
            per.against().forEach(a -> names.add(a.key().name()));
            per.figures().forEach(f -> names.addAll(names(f)));
        }
        return names;
    }

    /** The names of figures, of several functions those over fields that are named. */
    static List<String> names(Clause.Figure figure) {
        return figure instanceof Clause.Single single
                ? List.of(single.figure().name())
                : figures((Clause.Each) figure).stream().map(Assign::name).toList();
    }

    /** The figures of several functions over fields that are named. */
    static List<Assign> figures(Clause.Each each) {
        List<Assign> figures = new ArrayList<>();
        for (Clause.FieldPattern field : each.fields()) {
            if (!field.pattern() && !field.others()) {
                each.functions()
                        .forEach(f -> figures.add(new Assign(
                                field.name().name() + "_" + f.name(),
                                new Expr.Literal(Type.EMPTY, null, each.at()),
                                each.at(),
                                false)));
            }
        }
        return figures;
    }
}
