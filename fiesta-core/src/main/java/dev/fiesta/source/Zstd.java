package dev.fiesta.source;

import com.github.luben.zstd.ZstdInputStream;
import java.io.IOException;
import java.io.InputStream;

/** What is packed with zstd. A class of its own, so that its library is looked for only when such a file is met. */
final class Zstd {
    private Zstd() {}

    static InputStream unpacking(InputStream packed) throws IOException {
        return new ZstdInputStream(packed);
    }
}
