package dev.fiesta.plan;

import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Span;
import dev.fiesta.step.InputTexts.Compared;
import dev.fiesta.step.InputTexts.InputField;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Gathers what texts the clauses of a table compare with text fields of inputs. */
final class TextComparisons {
    /** What a name is at a place. */
    interface Names {
        /** The field of an input that a name stands for, or null for anything else. */
        @Nullable
        InputField field(String name);
    }

    private Names names = name -> null;
    private @Nullable Span kept;
    private List<Compared> found = new ArrayList<>();

    /** Begins a table. */
    void begin() {
        names = name -> null;
        found = new ArrayList<>();
    }

    /**
     * Begins a clause.
     *
     * @param condition that of an {@code only}, or null
     */
    void clause(Names now, @Nullable Span condition) {
        names = now;
        kept = condition;
    }

    /** The field of an input that a name stands for, or null for anything else. */
    @Nullable
    InputField field(String name) {
        return names.field(name);
    }

    /** Notes that a name is compared with a text, if it is. */
    void note(Context context, Expr operand, Expression with, boolean differs, Span at) {
        if (operand instanceof Expr.Name name
                && with instanceof Constant constant
                && constant.value() instanceof String text) {
            note(context, name.name(), text, differs, at);
        }
    }

    private void note(Context context, String name, String text, boolean differs, Span at) {
        InputField field = names.field(name);
        if (field != null) {
            String so = !differs ? "" : at.equals(kept) ? ", so this keeps everything" : ", so this is always true";
            found.add(new Compared(
                    field,
                    name,
                    text,
                    so,
                    context.text().name() + ":" + context.text().line(at)));
        }
    }

    List<Compared> found() {
        return List.copyOf(found);
    }
}
