package dev.fiesta.step;

import java.util.regex.Pattern;

/** Names by pattern: {@code *} stands for any letters, {@code ?} for one. */
public final class Globs {
    private Globs() {}

    public static boolean matches(String pattern, String name) {
        StringBuilder regex = new StringBuilder();
        for (char c : pattern.toCharArray()) {
            regex.append(c == '*' ? ".*" : c == '?' ? "." : Pattern.quote(String.valueOf(c)));
        }
        return name.matches(regex.toString());
    }
}
