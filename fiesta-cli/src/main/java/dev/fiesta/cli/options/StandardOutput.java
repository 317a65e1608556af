package dev.fiesta.cli.options;

import dev.fiesta.problem.MachineException;
import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.util.Locale;

/**
 * Standard output of which every byte is checked: writers in between swallow failures of the machine, so they are thrown as what no
 * writer swallows. A reader that has seen enough is no failure and ends the command.
 */
public final class StandardOutput extends OutputStream {
    /** The reader has gone away: nothing more needs to be written, or told. */
    public static final class ReaderGone extends RuntimeException {
        private static final long serialVersionUID = 1L;

        ReaderGone() {
            super("the reader of standard output has gone away", null, false, false);
        }
    }

    private interface Writing {
        void write() throws IOException;
    }

    private final OutputStream out;

    public StandardOutput() {
        this(new FileOutputStream(FileDescriptor.out));
    }

    public StandardOutput(OutputStream out) {
        this.out = out;
    }

    @Override
    public void write(int b) {
        checked(() -> out.write(b));
    }

    @Override
    public void write(byte[] bytes, int from, int length) {
        checked(() -> out.write(bytes, from, length));
    }

    @Override
    public void flush() {
        checked(out::flush);
    }

    private static void checked(Writing writing) {
        try {
            writing.write();
        } catch (IOException e) {
            // Systems say it in their own words: "Broken pipe", "The pipe is being closed".
            boolean gone =
                    String.valueOf(e.getMessage()).toLowerCase(Locale.ROOT).contains("pipe");
            throw gone ? new ReaderGone() : new MachineException("Standard output cannot be written", e);
        }
    }
}
