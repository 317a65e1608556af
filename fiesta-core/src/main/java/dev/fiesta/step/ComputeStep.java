package dev.fiesta.step;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;

/** Works out slots, in order. */
public record ComputeStep(List<Assignment> assignments) implements Step {
    @Override
    public String word() {
        return "add";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = (BitSet) after.clone();
        for (int i = assignments.size() - 1; i >= 0; i--) {
            Assignment assignment = assignments.get(i);
            boolean needed = assignment.isNeeded(before);
            before.clear(assignment.slot());
            if (needed) {
                assignment.value().fields(before::set);
            }
        }
        return before;
    }

    @Override
    public BitSet reads(BitSet after) {
        BitSet needed = (BitSet) after.clone();
        BitSet read = new BitSet();
        for (int i = assignments.size() - 1; i >= 0; i--) {
            Assignment assignment = assignments.get(i);
            if (assignment.isNeeded(needed)) {
                assignment.value().fields(read::set);
                assignment.value().fields(needed::set);
            }
        }
        return read;
    }

    @Override
    public String told(BitSet after) {
        List<String> done = new ArrayList<>();
        List<String> left = new ArrayList<>();
        for (Assignment assignment : assignments) {
            (assignment.isNeeded(after) || isRead(assignment) ? done : left).add(assignment.name());
        }
        String unneeded = left.isEmpty()
                ? ""
                : (done.isEmpty() ? "" : "; ") + String.join(", ", left) + " not worked out, nobody needs it";
        return (done.isEmpty() ? "" : "works out " + String.join(", ", done)) + unneeded;
    }

    /** Whether another assignment reads this one. */
    private boolean isRead(Assignment assignment) {
        BitSet read = new BitSet();
        assignments.forEach(a -> a.value().fields(read::set));
        return read.get(assignment.slot());
    }

    @Override
    public boolean flows() {
        return true;
    }

    @Override
    public IntStream gives() {
        return assignments.stream().mapToInt(Assignment::slot);
    }
}
