package dev.fiesta.compute;

import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The arguments of a call while its types are settled.
 *
 * @param list the arguments
 * @param calendar the settings that functions over dates follow
 */
public record Arguments(List<Expression> list, CalendarSettings calendar) {
    public int count() {
        return list.size();
    }

    public Type type(int i) {
        return list.get(i).type();
    }

    /** Whether an argument is one value for all rows. */
    public boolean isConstant(int i) {
        return list.get(i) instanceof Constant;
    }

    /** The value of a constant argument. */
    public @Nullable Object constant(int i) {
        return ((Constant) list.get(i)).value();
    }

    /** Refuses a call with too few or too many arguments. */
    public void expectCount(int least, int most, String usage) {
        if (count() < least || count() > most) {
            String wanted = least == most
                    ? least + (least == 1 ? " argument" : " arguments")
                    : most == Integer.MAX_VALUE
                            ? "at least " + least + " arguments"
                            : least + " to " + most + " arguments";
            throw new Misuse(-1, "This call has " + count() + " of " + wanted + ".", "It is written " + usage + ".");
        }
    }

    /** Refuses an argument that is neither of one of these kinds nor empty. */
    public void expectKind(int i, String what, Kind... kinds) {
        Kind kind = type(i).kind();
        if (kind == Kind.EMPTY) {
            return;
        }
        for (Kind fits : kinds) {
            if (kind == fits) {
                return;
            }
        }
        throw new Misuse(i, "'{}' is " + type(i).withArticle() + ", but " + what + ".", suggestion(kind, kinds));
    }

    private static @Nullable String suggestion(Kind found, Kind... wanted) {
        boolean numbers = List.of(wanted).contains(Kind.REAL);
        boolean dates = List.of(wanted).contains(Kind.DATE);
        if (found == Kind.TEXT && numbers) {
            return "If it holds numbers, convert it: decimal({}, 2), integer({}) or real({}).";
        }
        if (found == Kind.TEXT && dates) {
            return "If it holds dates, convert it: date({}{pattern}).";
        }
        if (found == Kind.INSTANT && dates) {
            return "Say in which zone first: in_zone({}, 'Europe/Lisbon').";
        }
        return null;
    }

    /** Refuses an argument that is no number of any kind. */
    public void expectNumeric(int i, String what) {
        expectKind(i, what, Kind.INTEGER, Kind.DECIMAL, Kind.REAL);
    }

    /** A constant whole number, for digits and the like. */
    public int wholeConstant(int i, String what, int least, int most) {
        if (isConstant(i) && constant(i) instanceof Long n && n >= least && n <= most) {
            return n.intValue();
        }
        throw new Misuse(i, what + " is a whole number from " + least + " to " + most + " written out.", null);
    }

    /** A constant text, for patterns and the like. */
    public String textConstant(int i, String what) {
        if (isConstant(i) && constant(i) instanceof String text) {
            return text;
        }
        throw new Misuse(i, what + " is a text written out.", null);
    }
}
