package dev.fiesta.crew;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.CRC32C;
import java.util.zip.Deflater;
import java.util.zip.DeflaterOutputStream;

/** Sections as {@link StageFile} has them. */
final class PackedSections extends Sections {
    private static final int BUFFER = 1 << 16;

    /** Where a section ends, and its sum. */
    private record Ended(long at, int sum) {}

    private final OutputStream file;
    private final OutputStream buffered;
    private final Deflater deflater = new Deflater(Deflater.BEST_SPEED);
    private final CRC32C sum = new CRC32C();
    private final List<Ended> ended = new ArrayList<>();
    private long written;
    private DeflaterOutputStream packed;
    private OutputStream section;

    PackedSections(OutputStream file) {
        this.file = file;
        this.buffered = new BufferedOutputStream(file, BUFFER);
        this.packed = packed();
        this.section = new BufferedOutputStream(packed, BUFFER);
    }

    private DeflaterOutputStream packed() {
        return new DeflaterOutputStream(
                new OutputStream() {
                    @Override
                    public void write(int b) throws IOException {
                        write(new byte[] {(byte) b}, 0, 1);
                    }

                    @Override
                    public void write(byte[] bytes, int from, int length) throws IOException {
                        sum.update(bytes, from, length);
                        buffered.write(bytes, from, length);
                        written += length;
                    }
                },
                deflater,
                BUFFER);
    }

    @Override
    public void write(int b) throws IOException {
        section.write(b);
    }

    @Override
    public void write(byte[] bytes, int from, int length) throws IOException {
        section.write(bytes, from, length);
    }

    @Override
    public void next() throws IOException {
        end();
        deflater.reset();
        sum.reset();
        packed = packed();
        section = new BufferedOutputStream(packed, BUFFER);
    }

    private void end() throws IOException {
        section.flush();
        packed.finish();
        ended.add(new Ended(written, (int) sum.getValue()));
    }

    /** Ends the last section, and tells where they all end. */
    void finish() throws IOException {
        end();
        ByteBuffer index = ByteBuffer.allocate(ended.size() * StageFile.ENTRY);
        ended.forEach(e -> index.putLong(e.at()).putInt(e.sum()));
        index.flip();
        buffered.write(index.array());
        buffered.write(ByteBuffer.allocate(2 * Integer.BYTES)
                .putInt(ended.size())
                .putInt(StageFile.sum(index))
                .array());
        buffered.flush();
    }

    @Override
    public void close() throws IOException {
        deflater.end();
        file.close();
    }
}
