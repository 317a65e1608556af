package dev.fiesta.engine;

import dev.fiesta.step.ComputeStep;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.Prepared;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * Steps that rows go through.
 *
 * @param name of the table, {@code shownName} as it is told of
 * @param numbers for each step its place among those of the table; -1 for one that only prepares another
 * @param passedOn the slots that tables over it see; null where they see all, also what an input hides
 * @param live the slots needed before each step, and behind the last
 * @param counts takes the rows that the reading and each step of the table left
 */
record Way(
        String name,
        String shownName,
        List<Step> steps,
        List<Integer> numbers,
        @Nullable List<Integer> passedOn,
        List<BitSet> live,
        long[] counts) {
    /** The steps of a table, prepared. */
    static Way of(TablePlan table, BitSet[] live, StepCounts counts) {
        List<Integer> passedOn = table.isInput() ? null : table.passedOn();
        return of(table.name(), table.shownName(), table.steps(), passedOn, live, counts.of(table));
    }

    /** Steps of no table, of which nobody is told. */
    static Way of(List<Step> steps, BitSet[] live) {
        return of("", "", steps, null, live, StepCounts.uncounted(steps.size()));
    }

    private static Way of(
            String name,
            String shownName,
            List<Step> steps,
            @Nullable List<Integer> passedOn,
            BitSet[] live,
            long[] counts) {
        int free = Math.max(
                worked(steps),
                Arrays.stream(live).mapToInt(BitSet::length).max().orElse(0));
        List<Step> all = new ArrayList<>();
        List<Integer> numbers = new ArrayList<>();
        List<BitSet> needed = new ArrayList<>();
        for (int i = 0; i < steps.size(); i++) {
            Prepared prepared = new Prepared(free);
            Step step = prepared.step(steps.get(i));
            BitSet before = (BitSet) live[i].clone();
            if (!prepared.before().isEmpty()) {
                all.add(new ComputeStep(prepared.before()));
                numbers.add(-1);
                needed.add(live[i]);
                prepared.before().forEach(a -> before.set(a.slot()));
                free += prepared.before().size();
            }
            all.add(step);
            numbers.add(i);
            needed.add(before);
        }
        needed.add(live.length == 0 ? new BitSet() : live[steps.size()]);
        return new Way(name, shownName, all, numbers, passedOn, needed, counts);
    }

    /** The first slot that no step works out. */
    private static int worked(List<Step> steps) {
        return steps.stream().flatMapToInt(Step::gives).max().orElse(-1) + 1;
    }

    /** The first slot that nothing uses; the one behind it is free too. */
    int free() {
        int free = live.stream().mapToInt(BitSet::length).max().orElse(0);
        return Math.max(free, worked(steps));
    }

    /** The same steps, with other slots carried up to the first step that makes new rows. */
    Way carrying(UnaryOperator<BitSet> slots) {
        List<BitSet> carried = new ArrayList<>();
        int last = Carried.end(this, 0);
        for (int i = 0; i < live.size(); i++) {
            carried.add(i <= last ? slots.apply(live.get(i)) : live.get(i));
        }
        return new Way(name, shownName, steps, numbers, passedOn, carried, counts);
    }

    /** Notes how many rows a step left. */
    void left(int step, long rows) {
        if (numbers.get(step) >= 0) {
            counts[numbers.get(step) + 1] = rows;
        }
    }

    Step step(int number) {
        return steps.get(number);
    }

    /** Whether one of some steps makes new rows, whose slots are others. */
    boolean makesNewRows(int from, int to) {
        return steps.subList(from, to).stream().anyMatch(Step::makesNewRows);
    }

    /** Whether of a row before some steps others may come behind them. */
    boolean makesOthers(int from, int to) {
        return makesNewRows(from, to)
                || steps.subList(from, to).stream().anyMatch(s -> s instanceof MatchStep match && match.multiplies());
    }

    /** The steps before one of the table's own, here. */
    int before(int number) {
        int at = 0;
        while (at < numbers.size() && numbers.get(at) < number) {
            at++;
        }
        return at;
    }
}
