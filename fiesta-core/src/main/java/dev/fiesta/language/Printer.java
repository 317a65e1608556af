package dev.fiesta.language;

import dev.fiesta.language.Expr.Modifiers;
import dev.fiesta.value.Kind;
import dev.fiesta.value.ShortestNumber;
import dev.fiesta.value.Texts;
import java.time.LocalDateTime;
import java.util.List;
import java.util.stream.Collectors;

/** Writes expressions back as text; what it writes is parsed into the same tree. */
public final class Printer implements Expr.Visitor<String> {
    private static final int COMPARISON = 4;
    private static final int NOT = 3;
    private static final int SIGN = 8;

    private Printer() {}

    /** An expression as text. */
    public static String print(Expr expr) {
        return expr.accept(new Printer());
    }

    /** A name, in double quotes where it needs them. */
    public static String name(String name) {
        boolean plain = name.matches("[\\p{L}_][\\p{L}\\p{Nd}_]*") && !Keywords.needsQuotes(name);
        return plain ? name : "\"" + name.replace("\"", "\"\"") + "\"";
    }

    /** A text in single quotes. */
    public static String text(String text) {
        return "'" + text.replace("'", "''") + "'";
    }

    /** How tightly the outermost operator of an expression binds. */
    private static int strength(Expr expr) {
        if (expr instanceof Expr.Binary binary) {
            return binary.op().strength();
        }
        if (expr instanceof Expr.Not not) {
            return isTest(not.operand()) ? COMPARISON : NOT;
        }
        if (expr instanceof Expr.Between || expr instanceof Expr.In || expr instanceof Expr.IsMissing) {
            return COMPARISON;
        }
        return expr instanceof Expr.Negate ? SIGN : expr instanceof Expr.If ? 0 : SIGN + 1;
    }

    private static boolean isTest(Expr expr) {
        return expr instanceof Expr.Between
                || expr instanceof Expr.In
                || expr instanceof Expr.IsMissing
                || (expr instanceof Expr.Binary binary && binary.op().looksInto());
    }

    /** An operand, in brackets where it binds less tightly than needed. */
    private String operand(Expr expr, int least) {
        String text = expr.accept(this);
        return strength(expr) < least ? "(" + text + ")" : text;
    }

    @Override
    public String literal(Expr.Literal node) {
        if (node.value() == null) {
            return "missing";
        }
        if (node.type().kind() == Kind.TEXT) {
            return text((String) node.value());
        }
        if (node.value() instanceof LocalDateTime time) {
            return time.toString();
        }
        if (node.value() instanceof Double number) {
            String written = ShortestNumber.of(number);
            return written.contains("e") ? written : written + "e0";
        }
        return Texts.of(node.value());
    }

    @Override
    public String period(Expr.Period node) {
        return node.amount() + " " + node.unit().word() + (node.amount() == 1 ? "" : "s");
    }

    @Override
    public String name(Expr.Name node) {
        return name(node.name());
    }

    @Override
    public String parameter(Expr.Parameter node) {
        return ":" + node.name();
    }

    @Override
    public String negate(Expr.Negate node) {
        boolean number = node.operand() instanceof Expr.Literal; // in brackets, or it would read as a negative number
        return number ? "-(" + node.operand().accept(this) + ")" : "-" + operand(node.operand(), SIGN + 1);
    }

    @Override
    public String not(Expr.Not node) {
        if (node.operand() instanceof Expr.Between between) {
            return between(between, " not between ");
        }
        if (node.operand() instanceof Expr.In in) {
            return in(in, " not in ");
        }
        if (node.operand() instanceof Expr.IsMissing test) {
            return operand(test.operand(), COMPARISON + 1) + " is not missing";
        }
        if (node.operand() instanceof Expr.Binary binary && binary.op().looksInto()) {
            return binary(binary, " not " + binary.op().sign() + " ");
        }
        return "not " + operand(node.operand(), NOT);
    }

    @Override
    public String binary(Expr.Binary node) {
        return binary(node, " " + node.op().sign() + " ");
    }

    private String binary(Expr.Binary node, String sign) {
        int strength = node.op().strength();
        int left = strength == COMPARISON ? strength + 1 : strength;
        return operand(node.left(), left) + sign + operand(node.right(), strength + 1);
    }

    @Override
    public String between(Expr.Between node) {
        return between(node, " between ");
    }

    private String between(Expr.Between node, String word) {
        int least = COMPARISON + 1;
        return operand(node.operand(), least) + word + operand(node.low(), least) + " and "
                + operand(node.high(), least);
    }

    @Override
    public String in(Expr.In node) {
        return in(node, " in ");
    }

    private String in(Expr.In node, String word) {
        int least = COMPARISON + 1;
        boolean list = node.choices().size() == 1 && node.choices().get(0) instanceof Expr.Parameter;
        String choices = node.choices().stream().map(c -> operand(c, least)).collect(Collectors.joining(", "));
        return operand(node.operand(), least) + word + (list ? choices : "(" + choices + ")");
    }

    @Override
    public String isMissing(Expr.IsMissing node) {
        return operand(node.operand(), COMPARISON + 1) + " is missing";
    }

    @Override
    public String conditional(Expr.If node) {
        String branches = node.branches().stream()
                .map(b -> "if " + operand(b.condition(), 1) + " then " + operand(b.value(), 1))
                .collect(Collectors.joining(" else "));
        return node.otherwise() == null ? branches : branches + " else " + operand(node.otherwise(), 1);
    }

    @Override
    public String reword(Expr.Reword node) {
        String pairs = node.words().stream()
                .map(b -> operand(b.condition(), COMPARISON + 1) + " as " + operand(b.value(), COMPARISON + 1))
                .collect(Collectors.joining(", "));
        String rest = node.otherwise() == null ? "" : ", else " + operand(node.otherwise(), 1);
        return "reword(" + operand(node.operand(), 0) + ", " + pairs + rest + ")";
    }

    @Override
    public String call(Expr.Call node) {
        String args = node.args().stream().map(a -> operand(a, 0)).collect(Collectors.joining(", "));
        String modifiers = modifiers(node.modifiers());
        String gap = args.isEmpty() || modifiers.isEmpty() ? "" : " ";
        return node.name() + "(" + args + gap + modifiers + ")";
    }

    private String modifiers(Modifiers modifiers) {
        StringBuilder text = new StringBuilder();
        if (modifiers.only() != null) {
            text.append(" only ").append(operand(modifiers.only(), 0));
        }
        List<Expr> within = modifiers.within();
        if (within != null) {
            String keys = within.stream().map(k -> operand(k, COMPARISON + 1)).collect(Collectors.joining(", "));
            text.append(" within ").append(within.isEmpty() ? "all" : keys);
        }
        if (!modifiers.along().isEmpty()) {
            text.append(" along ").append(keys(modifiers.along()));
        }
        if (modifiers.frame() != null) {
            text.append(' ').append(frame(modifiers.frame()));
        }
        return text.toString().strip();
    }

    private String keys(List<Expr.SortKey> keys) {
        return keys.stream()
                .map(k -> operand(k.key(), 0) + (k.descending() ? " desc" : ""))
                .collect(Collectors.joining(", "));
    }

    private String frame(Expr.Frame frame) {
        String rows;
        if (frame.span() != null) {
            rows = (frame.forward() ? "next " : "last ") + frame.span().accept(this);
        } else if (frame.from() == Expr.Frame.START && frame.to() == 0) {
            rows = "running";
        } else {
            rows = "from " + edge(frame.from()) + " to " + edge(frame.to());
        }
        return rows + (frame.full() ? " full" : "") + (frame.atLeast() > 0 ? " at least " + frame.atLeast() : "");
    }

    private static String edge(int rows) {
        if (rows == Expr.Frame.START) {
            return "start";
        }
        if (rows == Expr.Frame.END) {
            return "end";
        }
        return rows == 0 ? "here" : rows < 0 ? -rows + " before" : rows + " after";
    }
}
