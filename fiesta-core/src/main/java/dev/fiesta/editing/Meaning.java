package dev.fiesta.editing;

import dev.fiesta.language.Span;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** What a name stands for. Two names mean the same when this is the same object. */
public final class Meaning {
    /** Sorts of meanings. */
    public enum Kind {
        INPUT,
        TABLE,
        FIELD,
        PARAMETER
    }

    private final Kind kind;
    private final String name;
    private final @Nullable Span defined;
    private final boolean written;
    private final String origin;
    /** Another field that must be called the same: where rows of two tables meet by name. */
    private @Nullable Meaning same;

    /**
     * @param defined where the brief makes it, or null where it comes from a file or another brief
     * @param written whether its name is written there, so that it can be another
     * @param origin where it comes from, in words that stand behind "from": {@code input sales}
     */
    Meaning(Kind kind, String name, @Nullable Span defined, boolean written, String origin) {
        this.kind = kind;
        this.name = name;
        this.defined = defined;
        this.written = written;
        this.origin = origin;
    }

    /** {@return of which sort it is} */
    public Kind kind() {
        return kind;
    }

    /** {@return its name} */
    public String name() {
        return name;
    }

    /** {@return where this brief makes it, or null where it does not} */
    public @Nullable Span defined() {
        return defined;
    }

    /** {@return where it comes from, as words behind "from"; empty where that goes without saying} */
    public String origin() {
        return origin;
    }

    boolean isWritten() {
        return written;
    }

    void meets(Meaning other) {
        if (root() != other.root()) {
            root().same = other.root();
        }
    }

    /** One for all that must be called the same. */
    Meaning root() {
        Meaning root = this;
        while (root.same != null) {
            root = Objects.requireNonNull(root.same);
        }
        return root;
    }
}
