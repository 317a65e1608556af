package dev.fiesta.engine;

import dev.fiesta.compute.Fault;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.source.Source;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.List;

/** Failures as bytes: of the data, as they would have been thrown here; of a machine or of the program, as sentences. */
final class FailureBytes {
    private static final int DATA = 0;
    private static final int WIDER = 1;
    private static final int FAULT = 2;
    private static final int OTHER = 3;

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

    static void write(RuntimeException failure, DataOutput out) throws IOException {
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
        } else if (failure instanceof Fault fault) {
            out.writeByte(FAULT);
            Packing.text(out, fault.text());
            Packing.perhaps(out, fault.value());
        } else {
            out.writeByte(OTHER);
            Packing.text(out, String.valueOf(failure.getMessage()));
        }
    }

    static RuntimeException read(DataInput in) throws IOException {
        return switch (in.readByte()) {
            case DATA ->
                new DataException(
                        Packing.text(in), Packing.perhaps(in), in.readLong(), Packing.perhaps(in), Packing.perhaps(in));
            case WIDER ->
                new WidenedElsewhere(Packing.list(
                        in, () -> new Source.Widening(Packing.text(in), Packing.type(in), Packing.type(in))));
            case FAULT -> new Fault(Packing.text(in), Packing.perhaps(in), null);
            default -> new MachineException(Packing.text(in), null);
        };
    }
}
