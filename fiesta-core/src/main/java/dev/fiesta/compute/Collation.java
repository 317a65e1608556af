package dev.fiesta.compute;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Type;
import java.nio.charset.StandardCharsets;
import java.text.Collator;
import java.util.Arrays;
import java.util.Locale;
import java.util.function.IntConsumer;

/**
 * A text whose order by code point is the place of the given text in an alphabet: the bytes of its collation key, one
 * character each. Worked out once for each different text.
 */
public final class Collation extends Expression {
    private final Expression text;
    private final String locale;

    /** @param locale the locale whose alphabet is meant, such as {@code pt} */
    public Collation(Expression text, String locale) {
        super(Type.TEXT);
        this.text = text;
        this.locale = locale;
    }

    /** Whether there is an alphabet for a locale. */
    public static boolean knows(String locale) {
        String language = Locale.forLanguageTag(locale).getLanguage();
        return Arrays.stream(Collator.getAvailableLocales())
                .anyMatch(l -> l.getLanguage().equals(language) && !language.isEmpty());
    }

    @Override
    public void fields(IntConsumer use) {
        text.fields(use);
    }

    @Override
    public boolean mayFail() {
        return text.mayFail();
    }

    @Override
    public Kernel kernel(Notices notices) {
        Kernel inner = text.kernel(notices);
        Collator collator = Collator.getInstance(Locale.forLanguageTag(locale));
        collator.setDecomposition(Collator.CANONICAL_DECOMPOSITION);
        return batch -> {
            Column column = inner.eval(batch);
            return column instanceof TextColumn texts ? keys(texts.flat(), collator) : column;
        };
    }

    private static Column keys(Column column, Collator collator) {
        TextColumn texts = (TextColumn) column;
        Dictionary keys = new Dictionary();
        int[] known = new int[texts.dictionary().size()];
        Arrays.fill(known, -1);
        int[] codes = new int[texts.size()];
        for (int i = 0; i < codes.length; i++) {
            int code = texts.codes()[i];
            if (code >= 0 && known[code] < 0) {
                byte[] key =
                        collator.getCollationKey(texts.dictionary().text(code)).toByteArray();
                known[code] = keys.intern(new String(key, StandardCharsets.ISO_8859_1));
            }
            codes[i] = code < 0 ? -1 : known[code];
        }
        return TextColumn.of(codes, keys, codes.length);
    }
}
