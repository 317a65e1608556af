package dev.fiesta.parquet;

import com.github.luben.zstd.Zstd;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.compression.CompressionCodecFactory;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.xerial.snappy.Snappy;

/** How pages are packed and unpacked, without the machinery that the library would ask for it. */
final class ParquetCodecs implements CompressionCodecFactory {
    private static final int LEVEL = 3;

    /** A way of packing that is not known here. */
    static final class Unknown extends RuntimeException {
        private static final long serialVersionUID = 1L;

        Unknown(CompressionCodecName codec) {
            super(codec.name());
        }
    }

    @Override
    public BytesInputDecompressor getDecompressor(CompressionCodecName codec) {
        return new BytesInputDecompressor() {
            @Override
            public BytesInput decompress(BytesInput packed, int size) throws IOException {
                return codec == CompressionCodecName.UNCOMPRESSED
                        ? packed
                        : BytesInput.from(unpacked(codec, bytes(packed), size));
            }

            @Override
            public void decompress(ByteBuffer in, int packedSize, ByteBuffer out, int size) throws IOException {
                byte[] packed = new byte[packedSize];
                in.get(packed);
                out.put(codec == CompressionCodecName.UNCOMPRESSED ? packed : unpacked(codec, packed, size));
            }

            @Override
            public void release() {}
        };
    }

    private static byte[] unpacked(CompressionCodecName codec, byte[] packed, int size) throws IOException {
        return switch (codec) {
            case GZIP -> new GZIPInputStream(new ByteArrayInputStream(packed)).readNBytes(size);
            case ZSTD -> Zstd.decompress(packed, size);
            case SNAPPY -> Snappy.uncompress(packed);
            default -> throw new Unknown(codec);
        };
    }

    @Override
    public BytesInputCompressor getCompressor(CompressionCodecName codec) {
        return new BytesInputCompressor() {
            @Override
            public BytesInput compress(BytesInput plain) throws IOException {
                byte[] bytes = bytes(plain);
                return switch (codec) {
                    case UNCOMPRESSED -> plain;
                    case ZSTD -> BytesInput.from(Zstd.compress(bytes, LEVEL));
                    case GZIP -> BytesInput.from(packed(bytes));
                    case SNAPPY -> BytesInput.from(Snappy.compress(bytes));
                    default -> throw new Unknown(codec);
                };
            }

            @Override
            public CompressionCodecName getCodecName() {
                return codec;
            }

            @Override
            public void release() {}
        };
    }

    static byte[] bytes(BytesInput input) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream(Math.toIntExact(input.size()));
        input.writeAllTo(bytes);
        return bytes.toByteArray();
    }

    private static byte[] packed(byte[] plain) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(out)) {
            gzip.write(plain);
        }
        return out.toByteArray();
    }

    @Override
    public void release() {}
}
