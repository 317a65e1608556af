package dev.fiesta.plan;

import dev.fiesta.compute.Apply;
import dev.fiesta.compute.CalendarSettings;
import dev.fiesta.compute.Collation;
import dev.fiesta.compute.Expression;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Span;
import dev.fiesta.problem.Problem;
import dev.fiesta.step.OrderKey;
import dev.fiesta.value.Kind;
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

    /** A key of an order; texts stand by the alphabet that the brief names, and by code point where that is level. */
    List<OrderKey> order(Expression key, boolean descending) {
        OrderKey plain = new OrderKey(key, descending);
        if (calendar.collate() == null || key.type().kind() != Kind.TEXT) {
            return List.of(plain);
        }
        return List.of(new OrderKey(new Collation(key, calendar.collate()), descending), plain);
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
