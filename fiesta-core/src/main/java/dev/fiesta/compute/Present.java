package dev.fiesta.compute;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.util.List;
import java.util.function.IntConsumer;
import org.jspecify.annotations.Nullable;

/** True for rows where all keys are there, and a condition holds where there is one; rows that only lack a key are counted. */
public final class Present extends Expression {
    private final List<Expression> keys;
    private final @Nullable Expression only;
    private final String subject;

    /** @param subject what the rows have no place in, as it is written */
    public Present(List<Expression> keys, @Nullable Expression only, String subject) {
        super(Type.TRUTH);
        this.keys = List.copyOf(keys);
        this.only = only;
        this.subject = subject;
    }

    @Override
    public Kernel kernel(Notices notices) {
        List<Kernel> kernels = keys.stream().map(k -> k.kernel(notices)).toList();
        Kernel condition = only == null ? null : only.kernel(notices);
        return batch -> {
            int size = batch.size();
            List<Column> values = kernels.stream().map(k -> k.eval(batch)).toList();
            TruthColumn wanted = condition == null
                    ? null
                    : (TruthColumn)
                            Types.widen(condition.eval(batch), Type.TRUTH).flat();
            long[] bits = Bits.none(size);
            long lacking = 0;
            long asked = 0;
            for (int i = 0; i < size; i++) {
                boolean holds = wanted == null || (!wanted.isMissing(i) && wanted.isTrue(i));
                boolean there = true;
                for (Column value : values) {
                    there &= !value.isMissing(i);
                }
                asked += holds ? 1 : 0;
                lacking += holds && !there ? 1 : 0;
                if (holds && there) {
                    Bits.set(bits, i);
                }
            }
            notices.count(Notices.Kind.WITHOUT_PLACE, subject, lacking, asked);
            return new TruthColumn(bits, size, null);
        };
    }

    @Override
    public void fields(IntConsumer field) {
        keys.forEach(k -> k.fields(field));
        if (only != null) {
            only.fields(field);
        }
    }

    @Override
    public boolean mayFail() {
        return true;
    }
}
