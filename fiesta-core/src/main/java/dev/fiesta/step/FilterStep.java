package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import java.util.BitSet;
import java.util.List;

/** Keeps rows for which all conditions are true; each is asked only where those before it were not false. */
public record FilterStep(List<Expression> conjuncts, String place) implements Step {
    @Override
    public String word() {
        return "only";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = (BitSet) after.clone();
        Slots.read(conjuncts, before);
        return before;
    }

    @Override
    public String told(BitSet after) {
        return conjuncts.size() == 1
                ? "one condition"
                : conjuncts.size() + " conditions, each only where those before hold";
    }

    @Override
    public boolean flows() {
        return true;
    }

    @Override
    public boolean drops() {
        return true;
    }
}
