package dev.fiesta.source.files;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import java.io.BufferedInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStreamWriter;
import java.io.Reader;
import java.io.Writer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.function.Consumer;
import java.util.regex.Pattern;
import java.util.zip.ZipException;
import org.jspecify.annotations.Nullable;

/** Compressed files and files of other encodings, as plain UTF-8 in a temporary file. */
public final class Spool {
    /** What Western European programs write that do not know Unicode. */
    private static final Charset WINDOWS = Charset.forName("windows-1252");

    /** What only packed files are named. */
    private static final Pattern PACKED = Pattern.compile("\\.(gz|zst|zstd)$", Pattern.CASE_INSENSITIVE);

    private static final int MARK = 4;
    /** More than a record may have, also with four bytes a character. */
    private static final long MOST_IN_A_LINE = 80L << 20;

    private Spool() {}

    /**
     * A file of plain UTF-8.
     *
     * @param guessed the encoding that was guessed, or null
     */
    public record Plain(Paths.Named file, @Nullable String guessed) {}

    /**
     * The file itself when it is plain UTF-8, else a plain copy under the same name.
     *
     * @param encoding the encoding told, or null to look for a byte-order mark, zero bytes, and bytes that UTF-8 has not
     */
    public static Plain plain(Paths.Named file, @Nullable Charset encoding) {
        Paths.Named unpacked = unpacked(file);
        if (encoding != null) {
            return new Plain(encoding.equals(StandardCharsets.UTF_8) ? unpacked : decoded(unpacked, encoding), null);
        }
        return switch (Encoding.of(unpacked)) {
            case UTF_8 -> new Plain(unpacked, null);
            case UTF_16_MARKED -> new Plain(decoded(unpacked, StandardCharsets.UTF_16), null);
            case UTF_16_LE -> new Plain(decoded(unpacked, StandardCharsets.UTF_16LE), "UTF-16");
            case UTF_16_BE -> new Plain(decoded(unpacked, StandardCharsets.UTF_16BE), "UTF-16");
            case WINDOWS -> new Plain(decoded(unpacked, WINDOWS), "Windows-1252");
        };
    }

    /**
     * As {@link #plain(Paths.Named, Charset)}, of several files, whose copies are made side by side.
     *
     * @param each gets them in their order
     */
    public static void plain(List<Paths.Named> files, @Nullable Charset encoding, Consumer<Plain> each) {
        int threads = Math.min(files.size(), Runtime.getRuntime().availableProcessors());
        if (threads < 2) {
            files.forEach(file -> each.accept(plain(file, encoding)));
            return;
        }
        SideBySide.each(
                files.stream()
                        .<Callable<Plain>>map(file -> () -> plain(file, encoding))
                        .toList(),
                threads,
                plain -> {}, // a copy goes when nobody knows its path
                each);
    }

    /** The file itself, or an unpacked copy under the same name. */
    public static Paths.Named unpacked(Paths.Named file) {
        try (InputStream in = new BufferedInputStream(Files.newInputStream(file.path()))) {
            InputStream content = unpacking(in, file.name());
            if (content != null) {
                return new Paths.Named(file.name(), copy(content));
            }
            if (PACKED.matcher(file.name()).find()) {
                throw new DataException(
                        "'" + file.name()
                                + "' is named like a packed file, but is not packed, or its first bytes are damaged. "
                                + "If it is plain text, rename it without the ending.",
                        file.name(),
                        0,
                        null,
                        null);
            }
            return file;
        } catch (EOFException | ZipException e) {
            String why = e.getMessage() == null ? "" : ": " + e.getMessage();
            throw new DataException(
                    "'" + file.name() + "' is packed, but cut off or damaged" + why + ".", file.name(), 0, null, null);
        } catch (IOException e) {
            throw new MachineException("'" + file.name() + "' cannot be read", e);
        }
    }

    /** Null when the bytes are not packed. */
    private static @Nullable InputStream unpacking(InputStream in, String name) throws IOException {
        if (startsWith(in, 0x1F, 0x8B)) {
            return new GzipMembers(in);
        }
        if (!startsWith(in, 0x28, 0xB5, 0x2F, 0xFD)) {
            return null;
        }
        try {
            return Zstd.unpacking(in);
        } catch (NoClassDefFoundError | UnsatisfiedLinkError e) {
            throw new MachineException(
                    "'" + name + "' is packed with zstd; to read it, the library zstd-jni must be on the class path",
                    e);
        }
    }

    private static boolean startsWith(InputStream in, int... wanted) throws IOException {
        in.mark(MARK);
        boolean same = true;
        for (int i = 0; same && i < wanted.length; i++) {
            same = in.read() == wanted[i];
        }
        in.reset();
        return same;
    }

    /**
     * What arrives, in a temporary file. It ends early behind so many bytes without the end of a line that no record can hold them:
     * whoever reads it tells that.
     */
    static Path copy(InputStream content) throws IOException {
        try (content) {
            return TemporaryFiles.filled("What arrives", out -> {
                byte[] bytes = new byte[1 << 16];
                long inALine = 0;
                for (int count = content.read(bytes);
                        count >= 0 && inALine < MOST_IN_A_LINE;
                        count = content.read(bytes)) {
                    out.write(bytes, 0, count);
                    int end = endOfLine(bytes, count);
                    inALine = end < 0 ? inALine + count : count - end;
                }
            });
        }
    }

    private static int endOfLine(byte[] bytes, int count) {
        int at = count - 1;
        while (at >= 0 && bytes[at] != '\n' && bytes[at] != '\r') {
            at--;
        }
        return at;
    }

    private static Paths.Named decoded(Paths.Named file, Charset charset) {
        var decoder = charset.newDecoder()
                .onMalformedInput(CodingErrorAction.REPORT)
                .onUnmappableCharacter(CodingErrorAction.REPORT);
        try (Reader reader = new InputStreamReader(Files.newInputStream(file.path()), decoder)) {
            Path plain = TemporaryFiles.filled("'" + file.name() + "' as UTF-8", out -> {
                Writer writer = new OutputStreamWriter(out, StandardCharsets.UTF_8);
                reader.transferTo(writer);
                writer.flush();
            });
            return new Paths.Named(file.name(), plain);
        } catch (CharacterCodingException e) {
            throw new DataException(
                    "'" + file.name() + "' cannot be read as " + charset.displayName()
                            + ". Tell its encoding: add encoding 'utf-16', 'iso-8859-15' … to the input.",
                    file.name(),
                    0,
                    null,
                    null);
        } catch (IOException e) {
            throw new MachineException("'" + file.name() + "' cannot be read", e);
        }
    }

    /** A pipe as a file, under the name that it was asked for by. */
    static Paths.Named pipe(Paths.Named pipe) {
        try {
            return new Paths.Named(pipe.name(), copy(Files.newInputStream(pipe.path())));
        } catch (IOException e) {
            throw new MachineException("'" + pipe.name() + "' cannot be read", e);
        }
    }

    /** Standard input as a file: written down as it arrives, then treated like any other. */
    static Paths.Named standardInput() {
        try {
            return new Paths.Named("standard input", copy(System.in));
        } catch (IOException e) {
            throw new MachineException("Standard input cannot be read", e);
        }
    }
}
