package dev.fiesta.source;

import dev.fiesta.value.Packing;
import java.io.ByteArrayOutputStream;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;

/** What was judged of a piece, packed: there may be many records. */
final class AsidePiece {
    final int rows;
    /** How many records are set aside; what follows may be told of the first of them only. */
    final int count;

    final int part;
    private final long[] starts;
    private final int[] lengths;
    final String[] fields;
    final String[] reasons;
    private final byte[] values;
    private final int[] valueEnds;

    AsidePiece(int rows, List<Aside.Found> all, int most) {
        this.rows = rows;
        this.count = all.size();
        List<Aside.Found> bad = all.subList(0, Math.min(most, all.size()));
        this.part = bad.isEmpty() ? 0 : bad.get(0).part();
        this.starts = bad.stream().mapToLong(Aside.Found::start).toArray();
        this.lengths = bad.stream().mapToInt(f -> (int) (f.end() - f.start())).toArray();
        this.fields = bad.stream().map(Aside.Found::field).toArray(String[]::new);
        this.reasons = bad.stream().map(Aside.Found::reason).toArray(String[]::new);
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        this.valueEnds = new int[bad.size()];
        for (int i = 0; i < valueEnds.length; i++) {
            bytes.writeBytes(bad.get(i).value().getBytes(StandardCharsets.UTF_8));
            valueEnds[i] = bytes.size();
        }
        this.values = bytes.toByteArray();
    }

    /** As {@link #write} told it. */
    AsidePiece(DataInput in) throws IOException {
        rows = in.readInt();
        count = in.readInt();
        part = in.readInt();
        int size = in.readInt();
        starts = new long[size];
        lengths = new int[size];
        fields = new String[size];
        reasons = new String[size];
        valueEnds = new int[size];
        for (int i = 0; i < size; i++) {
            starts[i] = in.readLong();
            lengths[i] = in.readInt();
            fields[i] = Packing.text(in).intern();
            reasons[i] = Packing.text(in).intern();
            valueEnds[i] = in.readInt();
        }
        values = new byte[size == 0 ? 0 : valueEnds[size - 1]];
        in.readFully(values);
    }

    void write(DataOutput out) throws IOException {
        out.writeInt(rows);
        out.writeInt(count);
        out.writeInt(part);
        out.writeInt(size());
        for (int i = 0; i < size(); i++) {
            out.writeLong(starts[i]);
            out.writeInt(lengths[i]);
            Packing.text(out, fields[i]);
            Packing.text(out, reasons[i]);
            out.writeInt(valueEnds[i]);
        }
        out.write(values);
    }

    int size() {
        return starts.length;
    }

    Aside.Found get(int i) {
        int from = i == 0 ? 0 : valueEnds[i - 1];
        String value = new String(values, from, valueEnds[i] - from, StandardCharsets.UTF_8);
        return new Aside.Found(part, starts[i], starts[i] + lengths[i], fields[i], value, reasons[i]);
    }
}
