package dev.fiesta.stretch;

import dev.fiesta.compute.Fault;
import dev.fiesta.problem.DataException;
import dev.fiesta.source.Source;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.List;

/** Failures of the data as bytes: they are thrown where it was asked, as if they had been met there. */
public final class FailureBytes {
    private static final int DATA = 0;
    private static final int WIDER = 1;
    private static final int FAULT = 2;

    private FailureBytes() {}

    /** Fields that need wider types, found by somebody who reads the same records; what to read instead is for the one who asked to say. */
    static final class WidenedElsewhere extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final transient List<Source.Widening> fields;

        WidenedElsewhere(List<Source.Widening> fields) {
            super("types are widened elsewhere", null, false, false);
            this.fields = fields;
        }

        List<Source.Widening> fields() {
            return fields;
        }
    }

    /** Whether it would fail wherever it is tried. */
    static boolean isOfData(RuntimeException failure) {
        return failure instanceof DataException || failure instanceof Source.Widened || failure instanceof Fault;
    }

    /** @param failure one {@link #isOfData of the data} */
    public static void write(RuntimeException failure, DataOutput out) throws IOException {
        if (failure instanceof DataException data) {
            out.writeByte(DATA);
            Packing.text(out, data.getMessage());
            Packing.perhaps(out, data.file());
            out.writeLong(data.line());
            Packing.perhaps(out, data.field());
            Packing.perhaps(out, data.value());
        } else if (failure instanceof Source.Widened wider) {
            out.writeByte(WIDER);
            Packing.list(out, wider.fields(), field -> {
                Packing.text(out, field.field());
                Packing.type(out, field.from());
                Packing.type(out, field.to());
            });
        } else {
            Fault fault = (Fault) failure;
            out.writeByte(FAULT);
            Packing.text(out, fault.text());
            Packing.perhaps(out, fault.value());
        }
    }

    public static RuntimeException read(DataInput in) throws IOException {
        return switch (in.readByte()) {
            case DATA ->
                new DataException(
                        Packing.text(in), Packing.perhaps(in), in.readLong(), Packing.perhaps(in), Packing.perhaps(in));
            case WIDER ->
                new WidenedElsewhere(Packing.list(
                        in, () -> new Source.Widening(Packing.text(in), Packing.type(in), Packing.type(in))));
            default -> new Fault(Packing.text(in), Packing.perhaps(in), null);
        };
    }
}
