package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.walk.Order;
import java.util.List;

/** One key of an order. */
public record OrderKey(Expression key, boolean descending) {
    /** The keys of an order, worked out for a batch. */
    public static List<Order.Key> of(List<OrderKey> keys, Batch batch, Notices notices) {
        return keys.stream()
                .map(k -> new Order.Key(k.key().kernel(notices).eval(batch), k.descending()))
                .toList();
    }
}
