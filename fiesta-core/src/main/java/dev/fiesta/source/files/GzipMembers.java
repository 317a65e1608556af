package dev.fiesta.source.files;

import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.util.zip.CRC32;
import java.util.zip.DataFormatException;
import java.util.zip.Inflater;
import java.util.zip.ZipException;

/**
 * What is packed with gzip, all members to their ends (RFC 1952). The JDK's own stream takes whatever follows the first member and
 * is none for the end of the file, and so loses records in silence; here every byte of the file must belong to a whole member.
 */
final class GzipMembers extends InputStream {
    private static final int MAGIC_1 = 0x1F;
    private static final int MAGIC_2 = 0x8B;
    private static final int DEFLATE = 8;
    private static final int HEADER_CHECK = 2;
    private static final int EXTRA = 4;
    private static final int NAME = 8;
    private static final int COMMENT = 16;
    private static final int RESERVED = 0xE0;

    private final InputStream in;
    private final byte[] packed = new byte[1 << 16];
    private final Inflater inflater = new Inflater(true);
    private final CRC32 check = new CRC32();
    private int at;
    private int filled;
    private int member;
    private boolean ended;

    GzipMembers(InputStream in) throws IOException {
        this.in = in;
        header();
    }

    @Override
    public int read() throws IOException {
        byte[] one = new byte[1];
        return read(one, 0, 1) < 0 ? -1 : one[0] & 0xFF;
    }

    @Override
    public int read(byte[] to, int from, int length) throws IOException {
        if (length == 0) {
            return 0;
        }
        while (!ended) {
            int count = unpack(to, from, length);
            if (count > 0) {
                check.update(to, from, count);
                return count;
            }
            if (inflater.finished()) {
                trailer();
            }
        }
        return -1;
    }

    private int unpack(byte[] to, int from, int length) throws IOException {
        try {
            int count = inflater.inflate(to, from, length);
            if (count == 0 && inflater.needsInput() && !inflater.finished()) {
                if (at == filled) {
                    fill();
                }
                inflater.setInput(packed, at, filled - at);
                at = filled;
            }
            if (inflater.needsDictionary()) {
                throw damaged("it needs a dictionary");
            }
            return count;
        } catch (DataFormatException e) {
            throw damaged(e.getMessage() == null ? "its bytes cannot be unpacked" : e.getMessage());
        }
    }

    /** Compares what was unpacked with the sums behind it; the next member, or the end. */
    private void trailer() throws IOException {
        at = filled - inflater.getRemaining();
        long sum = number(4);
        long length = number(4);
        if (sum != check.getValue() || length != (inflater.getBytesWritten() & 0xFFFFFFFFL)) {
            throw damaged("its sums do not fit what it holds");
        }
        inflater.reset();
        check.reset();
        if (at == filled) {
            filled = Math.max(0, in.read(packed));
            at = 0;
        }
        ended = filled == 0;
        if (!ended) {
            header();
        }
    }

    private void header() throws IOException {
        member++;
        if (next() != MAGIC_1 || next() != MAGIC_2 || next() != DEFLATE) {
            throw damaged(member == 1 ? "it is no gzip" : "what stands here is no gzip");
        }
        int flags = next();
        if ((flags & RESERVED) != 0) {
            throw damaged("it has flags that nobody knows");
        }
        skip(6);
        if ((flags & EXTRA) != 0) {
            skip((int) number(2));
        }
        if ((flags & NAME) != 0) {
            skipText();
        }
        if ((flags & COMMENT) != 0) {
            skipText();
        }
        if ((flags & HEADER_CHECK) != 0) {
            skip(2);
        }
    }

    private void skip(int count) throws IOException {
        for (int i = 0; i < count; i++) {
            next();
        }
    }

    private void skipText() throws IOException {
        while (next() != 0) {
            continue;
        }
    }

    private long number(int bytes) throws IOException {
        long number = 0;
        for (int i = 0; i < bytes; i++) {
            number |= (long) next() << 8 * i;
        }
        return number;
    }

    private int next() throws IOException {
        if (at == filled) {
            fill();
        }
        return packed[at++] & 0xFF;
    }

    private void fill() throws IOException {
        filled = in.read(packed);
        at = 0;
        if (filled <= 0) {
            filled = 0;
            throw new EOFException("member " + member + " is cut off");
        }
    }

    private ZipException damaged(String why) {
        return new ZipException("in member " + member + " " + why);
    }

    @Override
    public void close() throws IOException {
        inflater.end();
        in.close();
    }
}
