package dev.fiesta.plan;

import dev.fiesta.compute.RowFunction;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.BriefTree.ParameterDef;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Span;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Problem;
import dev.fiesta.problem.Remedy;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Exact;
import dev.fiesta.value.JavaValues;
import dev.fiesta.value.Kind;
import dev.fiesta.value.TimePattern;
import dev.fiesta.value.Type;
import dev.fiesta.value.Values;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Gives the parameters of a brief their values: those given, else those the brief names. */
public final class ParameterValues {
    private BriefTree brief;
    private final Map<String, ?> given;
    private final Map<String, RowFunction> functions;
    private final List<Problem> problems = new ArrayList<>();
    /** Those that need a value and have none, with what is said of that. */
    private final Map<String, Problem> without = new LinkedHashMap<>();

    private final Map<String, Parameters.Value> values = new LinkedHashMap<>();

    private ParameterValues(BriefTree brief, Map<String, ?> given, Map<String, RowFunction> functions) {
        this.functions = functions;
        this.brief = brief;
        this.given = given;
    }

    /**
     * @param given values by name: objects of the parameter's type, lists of them, or texts to be read as such
     * @param functions those that the program defines
     */
    public static Parameters of(List<BriefTree> briefs, Map<String, ?> given, Map<String, RowFunction> functions) {
        ParameterValues resolved = resolve(briefs, given, functions);
        resolved.refuseUnknown();
        if (!resolved.problems.isEmpty()) {
            BriefException failure = new BriefException(resolved.problems);
            resolved.without.keySet().forEach(name -> Remedy.offered(failure, Remedy.Kind.PARAMETER_VALUE, name));
            throw failure;
        }
        return new Parameters(Map.copyOf(resolved.values), functions);
    }

    /**
     * The values that briefs themselves name; where one needs a value and has none, it stays without.
     *
     * @param problems where is told what is wrong with them
     */
    public static Parameters named(List<BriefTree> briefs, List<Problem> problems) {
        ParameterValues resolved = resolve(briefs, Map.of(), Map.of());
        resolved.without.values().forEach(resolved.problems::remove);
        problems.addAll(resolved.problems);
        return new Parameters(Map.copyOf(resolved.values), Map.of());
    }

    private static ParameterValues resolve(
            List<BriefTree> briefs, Map<String, ?> given, Map<String, RowFunction> functions) {
        ParameterValues resolved = new ParameterValues(briefs.get(briefs.size() - 1), given, functions);
        for (BriefTree brief : briefs) {
            resolved.brief = brief;
            brief.parameters().forEach(resolved::add);
        }
        return resolved;
    }

    private void refuseUnknown() {
        Set<String> known = values.keySet();
        for (String name : given.keySet()) {
            if (!known.contains(name)) {
                problems.add(brief.source()
                        .problem(
                                new Span(0, 1),
                                "The brief has no parameter '" + name + "'.",
                                Names.didYouMean(name, known, "It has")));
            }
        }
    }

    private void add(ParameterDef def) {
        String name = def.name().name();
        List<Object> items = null;
        if (values.containsKey(name)) {
            problems.add(brief.source()
                    .problem(
                            def.name().at(),
                            "There is a parameter '" + name + "' already.",
                            "Give this one another name."));
            return;
        }
        try {
            if (given.containsKey(name)) {
                items = given(def, given.get(name));
            } else if (def.value() != null) {
                items = written(def, def.value());
            } else if (!def.optional()) {
                Problem problem = brief.source()
                        .problem(
                                def.name().at(),
                                "The parameter '" + name + "' has no value"
                                        + (def.about() == null ? "." : ": " + def.about() + "."),
                                "Give it one.");
                problems.add(problem);
                without.put(name, problem);
            }
        } catch (BriefException e) {
            problems.addAll(e.problems());
        } catch (RequestException e) {
            problems.add(
                    brief.source().problem(def.name().at(), "The parameter '" + name + "' " + e.getMessage(), null));
        }
        values.put(name, new Parameters.Value(type(def, items), def.list(), items));
    }

    /** A decimal without a scale takes the largest of its values. */
    private static Type type(ParameterDef def, @Nullable List<Object> items) {
        if (!def.openScale() || items == null) {
            return def.type();
        }
        int scale = items.stream()
                .mapToInt(i -> i instanceof BigDecimal d ? Math.max(0, d.scale()) : 0)
                .max()
                .orElse(0);
        return Type.decimal(scale);
    }

    private @Nullable List<Object> given(ParameterDef def, @Nullable Object value) {
        List<@Nullable Object> several = JavaValues.items(value);
        if (value == null && def.optional()) {
            return null;
        }
        List<Object> items = new ArrayList<>();
        if (def.list() && several != null) {
            several.forEach(v -> items.add(fitted(def, v)));
        } else if (def.list() && value instanceof String texts) {
            parts(texts).forEach(v -> items.add(fitted(def, v)));
        } else {
            items.add(fitted(def, value));
        }
        return items;
    }

    /** Texts parted by commas; a backslash keeps the comma behind it. */
    private static List<String> parts(String text) {
        List<String> parts = new ArrayList<>();
        StringBuilder part = new StringBuilder();
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c == '\\' && i + 1 < text.length() && text.charAt(i + 1) == ',') {
                part.append(',');
                i++;
            } else if (c == ',') {
                parts.add(part.toString());
                part.setLength(0);
            } else {
                part.append(c);
            }
        }
        parts.add(part.toString());
        return parts;
    }

    /** Values that the brief writes: expressions over the parameters above. */
    private List<Object> written(ParameterDef def, List<Expr> exprs) {
        List<Object> items = new ArrayList<>();
        for (Expr expr : exprs) {
            Parameters.Value list = expr instanceof Expr.Parameter earlier ? values.get(earlier.name()) : null;
            if (def.list() && list != null && list.items() != null) {
                list.items().forEach(item -> items.add(fitted(def, item)));
                continue;
            }
            Object value = Planner.constant(brief, expr, new Parameters(Map.copyOf(values), functions));
            if (value == null) {
                throw new RequestException("has no value: what it is worked out from is missing.");
            }
            items.add(fitted(def, value));
        }
        return items;
    }

    private static Object fitted(ParameterDef def, @Nullable Object value) {
        Type type = def.type();
        Object found = value instanceof String written && type.kind() != Kind.TEXT
                ? read(type, def.openScale(), written.strip())
                : object(type, def.openScale(), value);
        if (found == null) {
            throw new RequestException("is " + (def.list() ? "a list of values that are each " : "")
                    + type.withArticle().replace("(0)", def.openScale() ? "" : "(0)") + ", and '" + value
                    + "' is not.");
        }
        return found;
    }

    private static @Nullable Object object(Type type, boolean openScale, @Nullable Object value) {
        try {
            Object held = JavaValues.held(value);
            return held == null
                    ? null
                    : type.kind() == Kind.DECIMAL && held instanceof Number && !(held instanceof Double)
                            ? decimal(type, openScale, held.toString())
                            : JavaValues.fitted(type, held);
        } catch (IllegalArgumentException e) {
            return null;
        }
    }

    /** A value written as a text, or null when it is none of the type. */
    public static @Nullable Object read(Type type, String text) {
        return type.kind() == Kind.TEXT ? text : read(type, false, text.strip());
    }

    private static @Nullable Object read(Type type, boolean openScale, String text) {
        byte[] bytes = text.getBytes(java.nio.charset.StandardCharsets.UTF_8);
        return switch (type.kind()) {
            case INTEGER -> integer(text);
            case DECIMAL -> decimal(type, openScale, text);
            case REAL -> real(text);
            case DATE -> time(type, TimePattern.isoDate(bytes, 0, bytes.length));
            case DATETIME -> time(type, TimePattern.isoDateTime(bytes, 0, bytes.length));
            case INSTANT -> time(type, TimePattern.isoInstant(bytes, 0, bytes.length));
            case TRUTH -> text.equals("true") ? Boolean.TRUE : text.equals("false") ? Boolean.FALSE : null;
            default -> text;
        };
    }

    private static @Nullable Object integer(String text) {
        BigDecimal value = Exact.written(text);
        try {
            return value == null || value.scale() != 0 ? null : (Object) value.longValueExact();
        } catch (ArithmeticException e) {
            return null;
        }
    }

    private static @Nullable Object real(String text) {
        BigDecimal value = Exact.written(text);
        double number = value == null ? Double.NaN : value.doubleValue();
        return Double.isFinite(number) ? (Object) number : null;
    }

    private static @Nullable Object time(Type type, long value) {
        return value == TimePattern.NONE ? null : Values.ofLong(type, value);
    }

    private static @Nullable BigDecimal decimal(Type type, boolean openScale, String text) {
        BigDecimal value = Exact.written(text);
        if (value == null) {
            return null;
        }
        try {
            BigDecimal fitted = openScale ? value.setScale(Math.max(0, value.scale())) : value.setScale(type.scale());
            return fitted.precision() > Type.MOST_DIGITS ? null : fitted;
        } catch (ArithmeticException e) {
            return null;
        }
    }
}
