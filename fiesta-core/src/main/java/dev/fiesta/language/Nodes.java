package dev.fiesta.language;

import java.util.List;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** Visits an expression and all expressions in it, outer ones first. */
public final class Nodes implements Expr.Visitor<@Nullable Void> {
    private final Consumer<Expr> met;

    private Nodes(Consumer<Expr> met) {
        this.met = met;
    }

    /** Hands every node of an expression on. */
    public static void each(Expr expr, Consumer<Expr> met) {
        expr.<@Nullable Void>accept(new Nodes(met));
    }

    private @Nullable Void of(Expr node, @Nullable Expr... inside) {
        met.accept(node);
        for (Expr expr : inside) {
            if (expr != null) {
                expr.<@Nullable Void>accept(this);
            }
        }
        return null;
    }

    private @Nullable Void all(List<Expr> exprs) {
        exprs.forEach(e -> e.<@Nullable Void>accept(this));
        return null;
    }

    @Override
    public @Nullable Void literal(Expr.Literal node) {
        return of(node);
    }

    @Override
    public @Nullable Void period(Expr.Period node) {
        return of(node);
    }

    @Override
    public @Nullable Void name(Expr.Name node) {
        return of(node);
    }

    @Override
    public @Nullable Void parameter(Expr.Parameter node) {
        return of(node);
    }

    @Override
    public @Nullable Void negate(Expr.Negate node) {
        return of(node, node.operand());
    }

    @Override
    public @Nullable Void not(Expr.Not node) {
        return of(node, node.operand());
    }

    @Override
    public @Nullable Void binary(Expr.Binary node) {
        return of(node, node.left(), node.right());
    }

    @Override
    public @Nullable Void between(Expr.Between node) {
        return of(node, node.operand(), node.low(), node.high());
    }

    @Override
    public @Nullable Void in(Expr.In node) {
        of(node, node.operand());
        return all(node.choices());
    }

    @Override
    public @Nullable Void isMissing(Expr.IsMissing node) {
        return of(node, node.operand());
    }

    @Override
    public @Nullable Void conditional(Expr.If node) {
        of(node, node.otherwise());
        node.branches().forEach(b -> all(List.of(b.condition(), b.value())));
        return null;
    }

    @Override
    public @Nullable Void reword(Expr.Reword node) {
        of(node, node.operand(), node.otherwise());
        node.words().forEach(b -> all(List.of(b.condition(), b.value())));
        return null;
    }

    @Override
    public @Nullable Void call(Expr.Call node) {
        of(node, node.modifiers().only());
        all(node.args());
        List<Expr> within = node.modifiers().within();
        if (within != null) {
            all(within);
        }
        node.modifiers().along().forEach(k -> k.key().<@Nullable Void>accept(this));
        return null;
    }
}
