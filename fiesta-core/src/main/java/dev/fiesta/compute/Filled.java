package dev.fiesta.compute;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import java.util.List;
import java.util.function.IntConsumer;

/** A field whose missing values are taken from another, and counted. */
public final class Filled extends Expression {
    private final Expression field;
    private final Expression filling;
    private final String subject;

    /**
     * @param filling of the field's type
     * @param subject what is filled, as it is written
     */
    public Filled(Expression field, Expression filling, String subject) {
        super(field.type());
        this.field = field;
        this.filling = filling;
        this.subject = subject;
    }

    @Override
    public Kernel kernel(Notices notices) {
        Kernel known = field.kernel(notices);
        Kernel other = filling.kernel(notices);
        return batch -> filled(known.eval(batch), other.eval(batch), batch, notices);
    }

    private Column filled(Column known, Column other, Batch batch, Notices notices) {
        int size = batch.size();
        int[] pick = new int[size];
        long missing = 0;
        long found = 0;
        for (int i = 0; i < size; i++) {
            boolean lacks = known.isMissing(i);
            boolean takes = lacks && !other.isMissing(i);
            missing += lacks ? 1 : 0;
            found += takes ? 1 : 0;
            pick[i] = takes ? size + i : i;
        }
        notices.count(Notices.Kind.FILLED, subject, found, missing);
        return found == 0
                ? known
                : Column.join(type(), List.of(known.flat(), other.flat())).take(pick, size);
    }

    @Override
    public void fields(IntConsumer slot) {
        field.fields(slot);
        filling.fields(slot);
    }

    @Override
    public boolean isSameAs(Expression other) {
        return other instanceof Filled same && same.field.isSameAs(field) && same.filling.isSameAs(filling);
    }

    /** It tells how much it filled. */
    @Override
    public boolean tellsMissing() {
        return true;
    }

    @Override
    public boolean mayFail() {
        return filling.mayFail();
    }
}
