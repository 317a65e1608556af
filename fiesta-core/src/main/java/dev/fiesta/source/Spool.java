package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.Writer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.CharsetDecoder;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.zip.GZIPInputStream;
import org.jspecify.annotations.Nullable;

/** Compressed files and files of other encodings, as plain UTF-8 in a temporary file of their owner, removed when the program ends. */
final class Spool {
    private static final int MARK = 4;

    private Spool() {}

    /**
     * The file itself when it is plain UTF-8, else a plain copy under the same name.
     *
     * @param encoding the encoding told, or null to look for a byte-order mark
     */
    static Paths.Named plain(Paths.Named file, @Nullable Charset encoding) {
        try (InputStream in = new BufferedInputStream(Files.newInputStream(file.path()))) {
            boolean zipped = startsWith(in, 0x1F, 0x8B);
            InputStream content = zipped ? new BufferedInputStream(new GZIPInputStream(in)) : in;
            Charset found = encoding != null ? encoding : marked(content);
            if (!zipped && found.equals(StandardCharsets.UTF_8)) {
                return file;
            }
            return new Paths.Named(file.name(), copy(content, found));
        } catch (CharacterCodingException e) {
            throw new DataException(
                    "'" + file.name() + "' is not in the encoding that was told.", file.name(), 0, null, null);
        } catch (IOException e) {
            throw new MachineException("'" + file.name() + "' cannot be read", e);
        }
    }

    private static boolean startsWith(InputStream in, int first, int second) throws IOException {
        in.mark(MARK);
        boolean same = in.read() == first && in.read() == second;
        in.reset();
        return same;
    }

    private static Charset marked(InputStream in) throws IOException {
        boolean utf16 = startsWith(in, 0xFF, 0xFE) || startsWith(in, 0xFE, 0xFF);
        return utf16 ? StandardCharsets.UTF_16 : StandardCharsets.UTF_8;
    }

    private static Path copy(InputStream content, Charset charset) throws IOException {
        Path plain = Files.createTempFile("fiesta-", ".plain");
        plain.toFile().deleteOnExit();
        CharsetDecoder decoder = charset.newDecoder()
                .onMalformedInput(CodingErrorAction.REPORT)
                .onUnmappableCharacter(CodingErrorAction.REPORT);
        try (Reader reader = new InputStreamReader(content, decoder);
                Writer writer = Files.newBufferedWriter(plain, StandardCharsets.UTF_8)) {
            reader.transferTo(writer);
        }
        return plain;
    }
}
