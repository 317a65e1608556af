package dev.fiesta.output;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.text.Normalizer;
import java.util.HexFormat;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The one rule by which a name of a table, a column or a value becomes the name of a file or folder. Two names never meet in one
 * file, and none leads out of its folder.
 *
 * <p>Letters, digits, {@code -}, {@code _}, and blanks and points inside stay; everything else is its UTF-8 bytes, {@code _} and
 * two hexadecimal digits each; a {@code _} is written {@code _5f} where it would read as such bytes. Names that a system keeps
 * for itself, nothing but points, those of a run's own files, and those over {@value #MOST_BYTES} bytes get {@code -} and six digits
 * of the SHA-256 of the name; where the file system takes different spellings for the same name, so do names that have such.
 */
public final class FileNames {
    private static final int MOST_BYTES = 120;
    private static final int SEAL = 7;
    private static final Pattern SEALED = Pattern.compile("(.*)-[0-9a-f]{6}", Pattern.DOTALL);
    private static final Pattern DEVICE =
            Pattern.compile("(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³]|conin\\$|conout\\$)( *\\..*)?", Pattern.DOTALL);
    private static final Set<String> OWN = Set.of("run", "set-aside", "report");
    private static final boolean SPELLINGS_MEET =
            System.getProperty("os.name", "").matches("(?i)(windows|mac|darwin).*");

    private FileNames() {}

    /** The name of the file or folder for a name, without an ending. */
    public static String of(String name) {
        return of(name, SPELLINGS_MEET);
    }

    /** @param spellingsMeet whether the file system takes {@code Quay} and {@code quay} for one name */
    static String of(String name, boolean spellingsMeet) {
        String plain = plain(name);
        if (!needsSeal(name, plain, spellingsMeet)) {
            return plain;
        }
        return cut(plain) + "-" + digits(name);
    }

    private static String plain(String name) {
        StringBuilder plain = new StringBuilder();
        int last = name.length() - 1;
        for (int i = 0, c; i <= last; i += Character.charCount(c)) {
            c = name.codePointAt(i);
            boolean inside = i > 0 && i < last;
            if (c == '_' ? !readsAsEscape(name, i) : stays(c, inside)) {
                plain.appendCodePoint(c);
            } else {
                escape(c, plain);
            }
        }
        return plain.toString();
    }

    private static boolean stays(int c, boolean inside) {
        boolean surrogate = c <= Character.MAX_VALUE && Character.isSurrogate((char) c);
        return !surrogate && (Character.isLetterOrDigit(c) || c == '-' || inside && (c == ' ' || c == '.'));
    }

    /** Whether what stands from a {@code _} on could be the escape of a character that is escaped; {@code by_band} cannot. */
    private static boolean readsAsEscape(String name, int from) {
        byte[] bytes = new byte[4];
        int count = 0;
        for (int i = from;
                count < bytes.length && i < name.length() && name.charAt(i) == '_' && isHex(name, i + 1);
                i += 3) {
            bytes[count++] = (byte) HexFormat.fromHexDigits(name, i + 1, i + 3);
        }
        if (count == 0) {
            return false;
        }
        int first = bytes[0] & 0xFF;
        int length = first < 0x80 ? 1 : first >= 0xF0 ? 4 : first >= 0xE0 ? 3 : first >= 0xC2 ? 2 : 0;
        if (length == 0 || length > count) {
            return false;
        }
        if (first == 0xED && (bytes[1] & 0xFF) >= 0xA0) {
            return true; // half of a surrogate pair
        }
        String read = new String(bytes, 0, length, StandardCharsets.UTF_8);
        boolean inside = from > 0 && from + 3 * length < name.length();
        return read.codePointCount(0, read.length()) == 1
                && read.indexOf('\uFFFD') < 0
                && (read.equals("_") || !stays(read.codePointAt(0), inside));
    }

    private static boolean isHex(String name, int from) {
        return from + 1 < name.length() && isSmallHex(name.charAt(from)) && isSmallHex(name.charAt(from + 1));
    }

    private static boolean isSmallHex(char c) {
        return c >= '0' && c <= '9' || c >= 'a' && c <= 'f';
    }

    /** Half of a surrogate pair has no UTF-8; it is written as the three bytes that its number would have. */
    private static void escape(int c, StringBuilder plain) {
        byte[] bytes = c >= Character.MIN_SURROGATE && c <= Character.MAX_SURROGATE
                ? new byte[] {(byte) (0xE0 | c >> 12), (byte) (0x80 | c >> 6 & 0x3F), (byte) (0x80 | c & 0x3F)}
                : Character.toString(c).getBytes(StandardCharsets.UTF_8);
        for (byte b : bytes) {
            plain.append('_').append(HexFormat.of().toHexDigits(b));
        }
    }

    private static boolean needsSeal(String name, String plain, boolean spellingsMeet) {
        return isKept(name)
                || bytes(plain) > MOST_BYTES
                || spellingsMeet && hasOtherSpellings(name)
                || looksSealed(name, plain, spellingsMeet);
    }

    private static boolean isKept(String name) {
        String small = name.toLowerCase(Locale.ROOT);
        return OWN.contains(small) || DEVICE.matcher(small).matches() || name.matches("\\.*");
    }

    private static boolean hasOtherSpellings(String name) {
        return !name.toLowerCase(Locale.ROOT).equals(name.toUpperCase(Locale.ROOT))
                || !Normalizer.isNormalized(name, Normalizer.Form.NFKC);
    }

    /** Whether a name reads as another one sealed, and so could meet it. */
    private static boolean looksSealed(String name, String plain, boolean spellingsMeet) {
        Matcher sealed = SEALED.matcher(name);
        return sealed.matches()
                && (bytes(plain) >= MOST_BYTES - 5
                        || needsSeal(sealed.group(1), plain(sealed.group(1)), spellingsMeet));
    }

    private static int bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8).length;
    }

    /** So much of a name as leaves room for the seal. */
    private static String cut(String plain) {
        int end = 0;
        for (int used = 0; end < plain.length(); ) {
            int c = plain.codePointAt(end);
            used += bytes(Character.toString(c));
            if (used > MOST_BYTES - SEAL) {
                break;
            }
            end += Character.charCount(c);
        }
        return plain.substring(0, end);
    }

    private static String digits(String name) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(name.getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(digest, 0, (SEAL - 1) / 2);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
