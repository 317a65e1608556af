package dev.fiesta.language;

import java.util.Collections;
import java.util.EnumSet;
import java.util.LinkedHashSet;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * What may stand at the end of a text: all that was looked for there by what read it. So it is the grammar itself that is asked, and no
 * second list of what may follow what.
 */
public final class Expected {
    /** What a name or text that is looked for would be. */
    public enum Sought {
        /** A new name, which nobody can know. */
        NEW,
        /** A field of the rows that stand here. */
        FIELD,
        /** A field of the table that was named last. */
        FIELD_OF_TABLE,
        /** A table or an input. */
        TABLE,
        /** A gathering function. */
        FUNCTION,
        TYPE,
        /** A format that is read. */
        FORMAT,
        /** A kind of chart. */
        CHART,
        WEEKDAY,
        /** The path of a file, in quotes. */
        PATH,
        /** A parameter. */
        PARAMETER
    }

    private final Set<String> words = new LinkedHashSet<>();
    private final Set<Sought> sought = EnumSet.noneOf(Sought.class);
    private boolean value;
    private boolean closed;
    private @Nullable Token start;
    private @Nullable Ref table;
    private @Nullable Expr compared;

    Expected() {}

    void word(String word) {
        if (!closed) {
            words.add(word);
        }
    }

    void name(Sought what) {
        if (!closed) {
            sought.add(what);
        }
    }

    void value() {
        value |= !closed;
    }

    /** What stands here was found wanting: what is looked for from now on belongs elsewhere. */
    void close() {
        closed = true;
    }

    void starts(Token keyword) {
        start = keyword;
        table = null;
    }

    void compared(Expr with) {
        if (!closed) {
            compared = with;
        }
    }

    void named(Ref name) {
        table = name;
    }

    /** {@return the words that may stand here; some are two that belong together} */
    public Set<String> words() {
        return Collections.unmodifiableSet(words);
    }

    /** {@return what a name or text here would be} */
    public Set<Sought> sought() {
        return Collections.unmodifiableSet(sought);
    }

    /** {@return whether a value may stand here: a field, a call, a literal} */
    public boolean isValue() {
        return value;
    }

    /** {@return the keyword of the part, clause or piece that the end stands in; null before the first} */
    public @Nullable Token start() {
        return start;
    }

    /** {@return what the value that may stand here is compared with, or null} */
    public @Nullable Expr compared() {
        return compared;
    }

    /** {@return the table that was named last in it, or null} */
    public @Nullable Ref table() {
        return table;
    }
}
