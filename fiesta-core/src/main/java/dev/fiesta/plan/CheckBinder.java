package dev.fiesta.plan;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import dev.fiesta.step.CheckStep;
import dev.fiesta.step.CheckSumStep;
import dev.fiesta.step.CheckText;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Settles {@code check} in all its forms. */
final class CheckBinder {
    private final TableBinding table;

    CheckBinder(TableBinding table) {
        this.table = table;
    }

    void every(Clause.Check clause) {
        Expression condition = table.row("check", clause.condition(), true);
        table.steps.add(check(condition, List.of(), null, 0, clause.at(), clause.message(), clause.warn()));
    }

    void unique(Clause.CheckUnique clause) {
        List<Integer> slots =
                clause.fields().stream().map(f -> table.seen(f, "check").slot()).toList();
        table.steps.add(check(null, slots, null, 0, clause.at(), clause.message(), clause.warn()));
    }

    void rows(Clause.CheckRows clause) {
        long count = table.count(clause.count(), "check rows");
        table.steps.add(check(null, List.of(), clause.op(), count, clause.at(), clause.message(), clause.warn()));
    }

    void sums(Clause.CheckSum clause) {
        Scope.Seen ours = table.seen(clause.field(), "check");
        TablePlan other = table.tables.apply(clause.table());
        int place = other.schema().indexOf(clause.theirs().name());
        if (place < 0) {
            throw table.context.complaint(
                    clause.theirs().at(),
                    "'" + other.shownName() + "' has no field '"
                            + clause.theirs().name() + "'.",
                    dev.fiesta.problem.Names.didYouMean(
                            clause.theirs().name(), other.schema().names(), "It has"));
        }
        table.steps.add(new CheckSumStep(
                other,
                ours.slot(),
                place,
                sum(ours.type(), clause.field()),
                sum(other.schema().type(place), clause.theirs()),
                text(clause.at(), clause.message()),
                clause.warn()));
    }

    private dev.fiesta.gather.GatherFunction.Bound sum(Type type, Ref field) {
        var args = new dev.fiesta.compute.Arguments(List.of(new FieldRef(0, type)), table.context.calendar());
        try {
            return Objects.requireNonNull(dev.fiesta.gather.GatherFunctions.find("sum"))
                    .rule()
                    .bind(args);
        } catch (dev.fiesta.compute.Misuse misuse) {
            throw table.context.complaint(field.at(), misuse.sentence().replace("{}", field.name()), null);
        }
    }

    private CheckText text(Span at, @Nullable String message) {
        dev.fiesta.compute.Apply.Place place = table.context.place(at);
        return new CheckText(place.at(), (message == null ? "" : message + "\n  ") + place.text());
    }

    private CheckStep check(
            @Nullable Expression condition,
            List<Integer> unique,
            dev.fiesta.language.@Nullable Op op,
            long count,
            Span at,
            @Nullable String message,
            boolean warn) {
        CheckText text = text(at, message);
        List<Integer> order = told(condition, unique);
        Schema all = table.scope.schema();
        Schema told = new Schema(order.stream().map(all::field).toList());
        List<Integer> slots = order.stream().map(table.scope.slots()::get).toList();
        return new CheckStep(condition, unique, op, count, text, warn, told, slots);
    }

    /** The places of fields in the order in which offending rows are told: keys, then what the check looks at, then the others. */
    private List<Integer> told(@Nullable Expression condition, List<Integer> unique) {
        List<String> names = table.scope.schema().names();
        List<String> keys = table.scope.level().keys();
        Set<Integer> looked = new HashSet<>(unique);
        if (condition != null) {
            condition.fields(looked::add);
        }
        Set<Integer> order = new LinkedHashSet<>();
        for (int f = 0; keys != null && f < names.size(); f++) {
            if (keys.contains(names.get(f))) {
                order.add(f);
            }
        }
        for (int f = 0; f < names.size(); f++) {
            if (looked.contains(table.scope.slots().get(f))) {
                order.add(f);
            }
        }
        for (int f = 0; f < names.size(); f++) {
            order.add(f);
        }
        return List.copyOf(order);
    }
}
