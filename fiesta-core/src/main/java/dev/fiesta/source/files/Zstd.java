package dev.fiesta.source.files;

import com.github.luben.zstd.ZstdIOException;
import com.github.luben.zstd.ZstdInputStream;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.zip.ZipException;

/** What is packed with zstd. A class of its own, so that its library is looked for only when such a file is met. */
final class Zstd {
    private Zstd() {}

    static InputStream unpacking(InputStream packed) throws IOException {
        return new FilterInputStream(new ZstdInputStream(packed)) {
            @Override
            public int read(byte[] to, int from, int length) throws IOException {
                try {
                    return super.read(to, from, length);
                } catch (ZstdIOException e) {
                    throw new ZipException(e.getMessage());
                }
            }
        };
    }
}
