package dev.fiesta.step;

import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.value.Type;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;

/**
 * A look-up.
 *
 * @param ours slots of our keys; {@code theirs} places of theirs, in the same order
 * @param latestOurs the slot that dates our rows, -1 for none
 * @param keySlots for rows that only they have: the slots that their keys go to
 */
public record MatchStep(
        boolean each,
        TablePlan table,
        List<Integer> ours,
        List<Integer> theirs,
        int latestOurs,
        int latestTheirs,
        List<Brought> bring,
        Unmatched unmatched,
        String place)
        implements Step {
    /** A field brought: where it stands in the other table and the slot it gets here. */
    public record Brought(int theirs, int slot, Type type) {}

    /** The same of which only rows with a match are left. */
    public MatchStep matchedOnly() {
        return new MatchStep(each, table, ours, theirs, latestOurs, latestTheirs, bring, Unmatched.MATCHED_ONLY, place);
    }

    @Override
    public List<TablePlan> lookedUp() {
        return List.of(table);
    }

    @Override
    public BitSet fieldsOf(TablePlan other, BitSet after) {
        return theirFields();
    }

    /** The fields of the other table that it reads. */
    public BitSet theirFields() {
        BitSet fields = new BitSet();
        theirs.forEach(fields::set);
        bring.forEach(b -> fields.set(b.theirs()));
        if (latestTheirs >= 0) {
            fields.set(latestTheirs);
        }
        return fields;
    }

    @Override
    public String word() {
        return "match " + table.shownName();
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = (BitSet) after.clone();
        bring.forEach(b -> before.clear(b.slot()));
        ours.forEach(before::set);
        if (latestOurs >= 0) {
            before.set(latestOurs);
        }
        return before;
    }

    @Override
    public String told(BitSet after) {
        return "looks up in " + table.shownName() + (each ? ", a row for each match" : "");
    }

    @Override
    public boolean flows() {
        return unmatched != Unmatched.ALSO_UNMATCHED;
    }

    /** Whether of a row several may become. */
    public boolean multiplies() {
        return each && unmatched != Unmatched.UNMATCHED_ONLY;
    }

    @Override
    public boolean drops() {
        return unmatched == Unmatched.MATCHED_ONLY || unmatched == Unmatched.UNMATCHED_ONLY;
    }

    @Override
    public IntStream gives() {
        return bring.stream().mapToInt(Brought::slot);
    }
}
