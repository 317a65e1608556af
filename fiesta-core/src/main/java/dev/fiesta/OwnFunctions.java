package dev.fiesta;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.compute.DefinedFunction;
import dev.fiesta.compute.RowFunction;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Parser;
import dev.fiesta.plan.Catalogue;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.JavaValues;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;

/** Functions that a program defines: their names and classes are looked at, then they are functions like ours. */
final class OwnFunctions {
    private OwnFunctions() {}

    static RowFunction of(String name, List<Class<?>> takes, Type gives, Function<Object[], ?> body) {
        refuseName(name);
        if (gives.kind() == Kind.EMPTY) {
            throw new RequestException("the function '" + name + "' gives values of a type, not " + gives);
        }
        List<DefinedFunction.Taken> taken = new ArrayList<>();
        for (Class<?> of : takes) {
            Type type = of == null ? null : JavaValues.type(of);
            boolean held = type != null && !of.isPrimitive() && holder(type).equals(of);
            if (type == null || !held) {
                throw new RequestException(
                        "the function '" + name + "' cannot take "
                                + (of == null ? "null" : of.getName())
                                + "; arguments are Long, BigDecimal, Double, String, Boolean, LocalDate, LocalDateTime, Instant");
            }
            taken.add(new DefinedFunction.Taken(type.kind()));
        }
        return DefinedFunction.of(name, taken, gives, body);
    }

    private static Class<?> holder(Type type) {
        return switch (type.kind()) {
            case INTEGER -> Long.class;
            case DECIMAL -> BigDecimal.class;
            case REAL -> Double.class;
            case TEXT -> String.class;
            case DATE -> java.time.LocalDate.class;
            case DATETIME -> java.time.LocalDateTime.class;
            case INSTANT -> java.time.Instant.class;
            default -> Boolean.class;
        };
    }

    private static void refuseName(String name) {
        if (Catalogue.entries().stream().map(Entry::name).anyMatch(name::equals)) {
            throw new RequestException("there is a function '" + name + "' in the language; give yours another name");
        }
        try {
            Expr read = Parser.expression(new BriefText("function", name + "()"));
            if (read instanceof Expr.Call call && call.name().equals(name)) {
                return;
            }
        } catch (BriefException e) {
            // said below
        }
        throw new RequestException(
                "'" + name + "' can be no name of a function: one letter, then letters, digits and '_'");
    }
}
