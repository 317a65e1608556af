package dev.fiesta.stretch;

import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;

/**
 * What stands before all else in an answer.
 *
 * @param starts where the first record of each piece starts, and of the piece behind them
 */
record Head(long[] starts, Outcome outcome) {
    /** What follows. */
    enum Outcome {
        /** What came of the pieces. */
        READ,
        /** The failure that the data led to. */
        FAILED,
        /** Nothing: what was to be merged does not belong together, or one of it has failed. */
        APART
    }

    long first() {
        return starts[0];
    }

    long behind() {
        return starts[starts.length - 1];
    }

    void write(DataOutput out) throws IOException {
        out.writeInt(starts.length);
        for (long start : starts) {
            out.writeLong(start);
        }
        out.writeByte(outcome.ordinal());
    }

    static Head read(DataInput in) throws IOException {
        long[] starts = new long[in.readInt()];
        for (int i = 0; i < starts.length; i++) {
            starts[i] = in.readLong();
        }
        return new Head(starts, Outcome.values()[in.readByte()]);
    }
}
