package dev.fiesta.survey;

import dev.fiesta.value.Batch;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** What one worker has seen. */
final class Sheet {
    private final List<Tally> tallies = new ArrayList<>();
    private final Draw draw;
    private long rows;

    Sheet(Schema schema) {
        schema.fields().forEach(f -> tallies.add(tally(f.type())));
        draw = new Draw(schema.size());
    }

    private static Tally tally(Type type) {
        return type.kind() == Kind.TEXT ? new TextTally() : new ValueTally(type);
    }

    void add(Batch batch) {
        rows += batch.size();
        long[] origins = ((LongColumn) batch.column(tallies.size() + 1).flat()).values();
        while (draw.wouldBeOverfull(origins, batch.size())) {
            thin(draw.level() + 1);
        }
        int count = draw.draw(origins, batch.size());
        for (int f = 0; f < tallies.size(); f++) {
            tallies.get(f).add(batch.once(f), draw.picked(), count);
        }
    }

    private void thin() {
        while (draw.isOverfull()) {
            thin(draw.level() + 1);
        }
    }

    private void thin(int level) {
        int[] stay = draw.thin(level);
        tallies.forEach(t -> t.thin(stay));
    }

    void merge(Sheet other) {
        int level = Math.max(draw.level(), other.draw.level());
        thin(level);
        other.thin(level);
        draw.merge(other.draw);
        for (int f = 0; f < tallies.size(); f++) {
            tallies.get(f).merge(other.tallies.get(f));
        }
        rows += other.rows;
        thin();
    }

    /** What was seen of each field. */
    List<FieldSurvey> finish(Schema schema, Map<String, Long> bad) {
        List<FieldSurvey> fields = new ArrayList<>();
        for (int f = 0; f < schema.size(); f++) {
            String name = schema.field(f).name();
            fields.add(tallies.get(f).finish(name, rows, bad.getOrDefault(name, 0L)));
        }
        return fields;
    }

    long rows() {
        return rows;
    }

    void write(DataOutput out) throws IOException {
        out.writeLong(rows);
        draw.write(out);
        for (Tally tally : tallies) {
            tally.write(out);
        }
    }

    /** Takes in what another one wrote, of the same fields, one after the other: two of all of them may be more than fits. */
    void merge(DataInput in) throws IOException {
        rows += in.readLong();
        Draw theirs = new Draw(tallies.size());
        theirs.read(in);
        int level = Math.max(draw.level(), theirs.level());
        thin(level);
        int[] stay = theirs.thin(level);
        draw.merge(theirs);
        for (Tally tally : tallies) {
            Tally other = tally.empty();
            other.read(in);
            other.thin(stay);
            tally.merge(other);
        }
        thin();
    }
}
