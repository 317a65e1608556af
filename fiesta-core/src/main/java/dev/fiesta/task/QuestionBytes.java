package dev.fiesta.task;

import dev.fiesta.trace.BehindPlan;
import dev.fiesta.trace.Question;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Questions about tables, as bytes. */
final class QuestionBytes {
    private enum Kind {
        RECORDS,
        SAMPLES,
        FRAME,
        MADE,
        STEPS
    }

    private QuestionBytes() {}

    static void write(Question question, DataOutput out) throws IOException {
        if (question instanceof Question.Records records) {
            begin(Kind.RECORDS, records.table(), out);
            Packing.list(out, List.copyOf(records.keys().entrySet()), key -> {
                Packing.text(out, key.getKey());
                Packing.text(out, key.getValue());
            });
            out.writeByte(records.part().ordinal());
        } else if (question instanceof Question.Samples samples) {
            begin(Kind.SAMPLES, samples.table(), out);
            out.writeInt(samples.most());
        } else if (question instanceof Question.Frame frame) {
            begin(Kind.FRAME, frame.table(), out);
            Packing.text(out, frame.figure());
        } else if (question instanceof Question.Made made) {
            begin(Kind.MADE, made.table(), out);
            Packing.text(out, made.figure());
        } else if (question instanceof Question.Steps steps) {
            begin(Kind.STEPS, steps.table(), out);
            out.writeInt(steps.first());
            out.writeInt(steps.rows());
        }
    }

    private static void begin(Kind kind, String table, DataOutput out) throws IOException {
        out.writeByte(kind.ordinal());
        Packing.text(out, table);
    }

    static Question read(DataInput in) throws IOException {
        Kind kind = Kind.values()[in.readByte()];
        String table = Packing.text(in);
        return switch (kind) {
            case RECORDS -> new Question.Records(table, keys(in), BehindPlan.Part.values()[in.readByte()]);
            case SAMPLES -> new Question.Samples(table, in.readInt());
            case FRAME -> new Question.Frame(table, Packing.text(in));
            case MADE -> new Question.Made(table, Packing.text(in));
            case STEPS -> new Question.Steps(table, in.readInt(), in.readInt());
        };
    }

    private static Map<String, String> keys(DataInput in) throws IOException {
        Map<String, String> keys = new LinkedHashMap<>();
        for (int left = in.readInt(); left > 0; left--) {
            keys.put(Packing.text(in), Packing.text(in));
        }
        return keys;
    }
}
