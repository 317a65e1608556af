package dev.fiesta.copy;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Field;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;

/**
 * What stands in a copy, and where.
 *
 * @param made when it was begun, in milliseconds since 1970
 * @param files those that were copied, as they were
 * @param names of the files that records come from, which may stand in those
 * @param fields with their types
 * @param declared the fields whose types were told
 * @param remarks what is told to whoever reads the records
 * @param counted what records are counted in, {@code line}
 * @param dictionaries for each field its texts, or null where it has none in common
 * @param blocks rows, in the order of the records
 */
record CopyIndex(
        long made,
        List<Seen> files,
        List<String> names,
        Schema fields,
        BitSet declared,
        List<String> remarks,
        String counted,
        List<Segment> dictionaries,
        List<Block> blocks) {
    /**
     * A file as it was.
     *
     * @param name by which it is told of
     * @param time when it was changed, in nanoseconds since 1970
     * @param sum what tells whether it is the same
     */
    record Seen(String name, long size, long time, String sum) {}

    /**
     * Bytes in the copy.
     *
     * @param check of the bytes
     * @param coded whether they are numbers of texts in the dictionary of the field
     * @param least and {@code most} the ends of the values; the first above the second where nothing is known
     */
    record Segment(long at, int bytes, int check, boolean coded, long least, long most) {
        boolean isBounded() {
            return least <= most;
        }
    }

    /** A cell that is told of whenever somebody looks at it. */
    record Note(Notices.Kind kind, int field, int row, String value) {}

    /**
     * Rows that the input gives as one batch.
     *
     * @param sequence of that batch
     * @param file where they come from, the number of its name
     * @param columns of the fields, the origins, the numbers by which records are told of
     */
    record Block(long sequence, int file, int rows, List<Segment> columns, List<Note> notes) {
        Block with(Segment further) {
            List<Segment> all = new ArrayList<>(columns);
            all.add(further);
            return new Block(sequence, file, rows, List.copyOf(all), notes);
        }
    }

    long records() {
        return blocks.stream().mapToLong(Block::rows).sum();
    }

    byte[] bytes() {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (DataOutputStream out = new DataOutputStream(bytes)) {
            out.writeLong(made);
            out.writeInt(files.size());
            for (Seen file : files) {
                text(out, file.name());
                out.writeLong(file.size());
                out.writeLong(file.time());
                text(out, file.sum());
            }
            texts(out, names);
            out.writeInt(fields.size());
            for (int f = 0; f < fields.size(); f++) {
                text(out, fields.field(f).name());
                out.writeByte(fields.type(f).kind().ordinal());
                out.writeByte(fields.type(f).scale());
                out.writeBoolean(declared.get(f));
                segment(out, dictionaries.get(f));
            }
            texts(out, remarks);
            text(out, counted);
            out.writeInt(blocks.size());
            for (Block block : blocks) {
                block(out, block);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return bytes.toByteArray();
    }

    private static void block(DataOutputStream out, Block block) throws IOException {
        out.writeLong(block.sequence());
        out.writeInt(block.file());
        out.writeInt(block.rows());
        for (Segment segment : block.columns()) {
            segment(out, segment);
        }
        out.writeInt(block.notes().size());
        for (Note note : block.notes()) {
            out.writeByte(note.kind().ordinal());
            out.writeInt(note.field());
            out.writeInt(note.row());
            text(out, note.value());
        }
    }

    private static void segment(DataOutputStream out, Segment segment) throws IOException {
        out.writeLong(segment.at());
        out.writeInt(segment.bytes());
        out.writeInt(segment.check());
        out.writeBoolean(segment.coded());
        out.writeLong(segment.least());
        out.writeLong(segment.most());
    }

    private static void texts(DataOutputStream out, List<String> texts) throws IOException {
        out.writeInt(texts.size());
        for (String text : texts) {
            text(out, text);
        }
    }

    private static void text(DataOutputStream out, String text) throws IOException {
        byte[] utf8 = text.getBytes(java.nio.charset.StandardCharsets.UTF_8);
        out.writeInt(utf8.length);
        out.write(utf8);
    }

    /** @throws IOException when the bytes are none of an index */
    static CopyIndex read(byte[] bytes) throws IOException {
        try (DataInputStream in = new DataInputStream(new ByteArrayInputStream(bytes))) {
            long made = in.readLong();
            List<Seen> files = new ArrayList<>();
            for (int left = in.readInt(); left > 0; left--) {
                files.add(new Seen(text(in), in.readLong(), in.readLong(), text(in)));
            }
            List<String> names = texts(in);
            List<Field> fields = new ArrayList<>();
            List<Segment> dictionaries = new ArrayList<>();
            BitSet declared = new BitSet();
            for (int left = in.readInt(); left > 0; left--) {
                String name = text(in);
                fields.add(new Field(name, new Type(Kind.values()[in.readByte()], in.readByte())));
                declared.set(fields.size() - 1, in.readBoolean());
                dictionaries.add(segment(in));
            }
            List<String> remarks = texts(in);
            String counted = text(in);
            List<Block> blocks = new ArrayList<>();
            for (int left = in.readInt(); left > 0; left--) {
                blocks.add(block(in, fields.size() + MORE));
            }
            return new CopyIndex(
                    made, files, names, new Schema(fields), declared, remarks, counted, dictionaries, blocks);
        } catch (RuntimeException e) {
            throw new CopyFile.Damaged("its index cannot be read: " + e);
        }
    }

    /** Columns of blocks behind those of the fields: the origins, the numbers. */
    static final int MORE = 2;

    private static Block block(DataInputStream in, int width) throws IOException {
        long sequence = in.readLong();
        int file = in.readInt();
        int rows = in.readInt();
        List<Segment> columns = new ArrayList<>();
        for (int i = 0; i < width; i++) {
            columns.add(segment(in));
        }
        List<Note> notes = new ArrayList<>();
        for (int left = in.readInt(); left > 0; left--) {
            notes.add(new Note(Notices.Kind.values()[in.readByte()], in.readInt(), in.readInt(), text(in)));
        }
        return new Block(sequence, file, rows, columns, notes);
    }

    private static Segment segment(DataInputStream in) throws IOException {
        return new Segment(in.readLong(), in.readInt(), in.readInt(), in.readBoolean(), in.readLong(), in.readLong());
    }

    private static List<String> texts(DataInputStream in) throws IOException {
        List<String> texts = new ArrayList<>();
        for (int left = in.readInt(); left > 0; left--) {
            texts.add(text(in));
        }
        return texts;
    }

    private static String text(DataInputStream in) throws IOException {
        byte[] utf8 = new byte[in.readInt()];
        in.readFully(utf8);
        return new String(utf8, java.nio.charset.StandardCharsets.UTF_8);
    }
}
