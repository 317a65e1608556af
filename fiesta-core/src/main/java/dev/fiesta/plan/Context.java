package dev.fiesta.plan;

import dev.fiesta.compute.Apply;
import dev.fiesta.compute.CalendarSettings;
import dev.fiesta.compute.Collation;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Misuse;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Span;
import dev.fiesta.problem.Problem;
import dev.fiesta.step.InputTexts;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.SortStep;
import dev.fiesta.step.Step;
import dev.fiesta.value.Kind;
import dev.fiesta.value.TimePattern;
import dev.fiesta.value.Type;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What all binding in one text shares.
 *
 * @param problems where problems are gathered
 * @param texts where texts are gathered that are compared with fields of inputs
 */
record Context(
        BriefText text,
        Parameters parameters,
        CalendarSettings calendar,
        List<Problem> problems,
        TextComparisons texts) {

    Context(BriefText text, Parameters parameters, CalendarSettings calendar, List<Problem> problems) {
        this(text, parameters, calendar, problems, new TextComparisons());
    }

    Complaint complaint(Span at, String message, @Nullable CharSequence suggestion) {
        return new Complaint(text.problem(at, message, suggestion));
    }

    /** The pattern that dates in a text field are written in, as a further argument; a common one where nobody knows. */
    private String pattern(String name) {
        InputTexts.InputField field = texts.field(name);
        String found = field == null
                ? null
                : TimePattern.of(field.input().texts().samples().of(field.place()));
        return "yyyy-MM-dd".equals(found) ? "" : ", '" + (found == null ? "dd/MM/yyyy" : found) + "'";
    }

    /** A misuse as a complaint at the argument it is about. */
    Complaint misused(Misuse misuse, List<Span> places, Span at) {
        int argument = misuse.argument();
        Span place = argument >= 0 && argument < places.size() ? places.get(argument) : at;
        Span shown = argument >= 0 ? place : places.isEmpty() ? at : places.get(0);
        String written = text.at(shown).replaceAll("\\s+", " ");
        String quoted = written.startsWith("'") ? written : "'" + written + "'";
        String suggestion = misuse.suggestion();
        return complaint(
                place,
                misuse.sentence().replace("'{}'", quoted).replace("{}", written),
                suggestion == null ? null : suggestion.replace("{}", written).replace("{pattern}", pattern(written)));
    }

    /** A key of an order; texts stand by the alphabet that the brief names, and by code point where that is level. */
    List<OrderKey> order(Expression key, boolean descending) {
        OrderKey plain = new OrderKey(key, descending);
        if (calendar.collate() == null || key.type().kind() != Kind.TEXT) {
            return List.of(plain);
        }
        return List.of(new OrderKey(new Collation(key, calendar.collate()), descending), plain);
    }

    /** Puts rows that stand by keys, in the order of code points, by the alphabet that the brief names; no step where that is the same. */
    List<Step> byAlphabet(List<Expression> keys) {
        List<OrderKey> order =
                keys.stream().flatMap(k -> order(k, false).stream()).toList();
        return order.size() == keys.size() ? List.of() : List.of(new SortStep(order));
    }

    /** Whether nobody knows a type because of a mistake that was told: no second one is told of it. */
    boolean isLost(Type type) {
        return type.kind() == Kind.EMPTY && !problems.isEmpty();
    }

    /** Runs something; its complaint becomes a problem. Whether there was none. */
    boolean attempt(Runnable part) {
        try {
            part.run();
            return true;
        } catch (Complaint complaint) {
            problems.add(complaint.problem());
            return false;
        }
    }

    /** Runs something whose complaint will be made again, where it belongs. */
    void silently(Runnable part) {
        try {
            part.run();
        } catch (Complaint complaint) {
            return;
        }
    }

    Apply.Place place(Span at) {
        return new Apply.Place(text.name() + ":" + text.line(at), text.at(at).replaceAll("\\s+", " "));
    }
}
