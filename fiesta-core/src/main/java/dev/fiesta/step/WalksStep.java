package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;

/** Calculations over partitions that need nothing of each other. */
public record WalksStep(List<WalkSpec> specs) implements Step {
    @Override
    public String word() {
        return "add … within";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = (BitSet) after.clone();
        specs.forEach(s -> before.clear(s.slot()));
        for (WalkSpec spec : specs) {
            Slots.read(spec.args(), before);
            Slots.read(spec.within(), before);
            Slots.readKeys(spec.along(), before);
            Slots.read(spec.only(), before);
        }
        return before;
    }

    @Override
    public String told(BitSet after) {
        long orders = specs.stream().map(WalksStep::order).distinct().count();
        return specs.size() + (specs.size() == 1 ? " calculation" : " calculations") + " over partitions, sorted "
                + (orders == 1 ? "once" : orders + " times");
    }

    /** What the rows of a calculation are sorted by. */
    private static List<Object> order(WalkSpec spec) {
        List<Object> order = new ArrayList<>();
        for (Expression key : spec.within()) {
            order.add(Slots.read(key));
        }
        spec.along().forEach(k -> order.add(List.of(Slots.read(k.key()), k.descending())));
        order.add(spec.within().size());
        return order;
    }

    @Override
    public Step prepared(Prepared before) {
        return new WalksStep(specs.stream()
                .map(s -> new WalkSpec(
                        s.slot(),
                        s.calculation(),
                        before.values(s.args()),
                        s.only() == null ? null : before.value(s.only()),
                        before.values(s.within()),
                        before.order(s.along()),
                        s.period(),
                        s.place()))
                .toList());
    }

    @Override
    public boolean keepsRows() {
        return true;
    }

    @Override
    public IntStream gives() {
        return specs.stream().mapToInt(WalkSpec::slot);
    }

    @Override
    public List<Expression> together() {
        return specs.get(0).within().stream()
                .filter(k -> specs.stream().allMatch(s -> has(s, k)))
                .toList();
    }

    @Override
    public boolean staysWithin(List<Expression> keys) {
        return specs.stream().allMatch(s -> keys.stream().allMatch(k -> has(s, k)));
    }

    private static boolean has(WalkSpec spec, Expression key) {
        return spec.within().stream().anyMatch(key::isSameAs);
    }
}
