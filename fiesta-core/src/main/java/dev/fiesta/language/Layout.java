package dev.fiesta.language;

import dev.fiesta.language.Cursor.Start;
import dev.fiesta.language.Token.Kind;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/**
 * Lays a text out: a part starts a line, a clause or piece a line behind two blanks, its keyword padded so that what follows
 * stands in one column. Lists keep the lines they were written on; lines that would be too long are broken behind commas,
 * and where that does not help before {@code and}, {@code or} and {@code else}. Words are taken from the text as they are, and comments stay where they stand.
 */
final class Layout {
    private static final int WIDTH = 110;
    private static final int CLAUSE_PAD = 6;
    private static final int PIECE_PAD = 7;
    private static final String INDENT = "  ";
    private static final Set<String> BREAKABLE = Set.of("and", "or", "else");
    /** Words behind which a bracket does not belong to a call. */
    private static final Set<String> NO_CALLS = Set.of(
            "and", "or", "not", "in", "if", "then", "else", "between", "is", "as", "within", "along", "only", "per",
            "sort", "give", "by", "where", "check", "against", "to", "from");

    private final String source;
    private final Cursor words;
    private final StringBuilder out = new StringBuilder();
    private final List<Line> lines = new ArrayList<>();

    /** Words and comments between two starts. */
    private record Line(Start start, List<Item> items) {}

    /**
     * A word or a comment.
     *
     * @param glued whether it follows the one before without a blank
     * @param depth the brackets around it
     * @param own whether a comment stands on a line of its own, or a word behind a comma started a line
     */
    private record Item(String text, boolean comment, boolean glued, int depth, boolean own) {}

    Layout(BriefText text, Cursor words) {
        this.source = text.text();
        this.words = words;
        gather();
    }

    private void gather() {
        List<Item> items = new ArrayList<>();
        Start start = Start.PART;
        int behind = 0;
        int depth = 0;
        Token before = null;
        List<Item> waiting = new ArrayList<>();
        for (Token token : words.tokens()) {
            List<Item> comments = comments(behind, token.at().start(), depth);
            Start starts = words.startAt(token);
            if (starts != null || token.is(Kind.END)) {
                comments.stream().filter(c -> !c.own()).forEach(items::add);
                if (!items.isEmpty()) {
                    lines.add(new Line(start, items));
                }
                comments.stream().filter(Item::own).forEach(waiting::add);
                items = new ArrayList<>();
                start = starts == null ? Start.PART : starts;
                items.addAll(waiting);
                waiting.clear();
                before = null;
                depth = 0;
            } else {
                items.addAll(comments);
            }
            if (token.is(Kind.END)) {
                break;
            }
            depth -= token.sign(")") ? 1 : 0;
            String text = source.substring(token.at().start(), token.at().end());
            boolean listed = before != null && before.sign(",") && token.startsLine() && depth == 0;
            items.add(new Item(text, false, before != null && glued(before, token, prefix), depth, listed));
            depth += token.sign("(") ? 1 : 0;
            prefix = token.sign("-") && isPrefix(before);
            before = token;
            behind = token.at().end();
        }
        if (!items.isEmpty()) {
            lines.add(new Line(Start.PART, items));
        }
    }

    private boolean prefix;

    /** Whether a minus sign behind this word is that of a number. */
    private static boolean isPrefix(@org.jspecify.annotations.Nullable Token before) {
        return before == null
                || (before.is(Kind.SIGN) && !before.sign(")"))
                || (before.is(Kind.NAME) && NO_CALLS.contains(before.text()));
    }

    private static boolean glued(Token before, Token token, boolean behindPrefix) {
        if (token.sign(",") || token.sign(")") || token.sign(".") || before.sign("(") || before.sign(".")) {
            return true;
        }
        boolean call = before.isName() && !(before.is(Kind.NAME) && NO_CALLS.contains(before.text()));
        return (token.sign("(") && call) || behindPrefix;
    }

    private List<Item> comments(int from, int to, int depth) {
        List<Item> comments = new ArrayList<>();
        boolean own = from == 0;
        for (String line : source.substring(from, to).split("\n", -1)) {
            int at = line.indexOf('#');
            if (at >= 0) {
                comments.add(new Item(line.substring(at).stripTrailing(), true, false, depth, own));
            }
            own = true;
        }
        return comments;
    }

    String text() {
        String part = "";
        for (Line line : lines) {
            Item first =
                    line.items().stream().filter(i -> !i.comment()).findFirst().orElse(null);
            if (line.start() == Start.PART) {
                String now = first == null ? "" : first.text();
                boolean apart = !now.equals(part) || now.equals("table") || now.isEmpty();
                out.append(out.isEmpty() || !apart ? "" : "\n");
                part = now;
                write(line, "", "");
            } else {
                write(line, INDENT, pad(line.start()));
            }
        }
        return Alignment.of(out.toString());
    }

    private static String pad(Start start) {
        return " ".repeat(start == Start.PIECE ? PIECE_PAD : CLAUSE_PAD);
    }

    private void write(Line line, String indent, String pad) {
        int next = 0;
        while (next < line.items().size()
                && line.items().get(next).comment()
                && line.items().get(next).own()) {
            out.append(indent).append(line.items().get(next++).text()).append('\n');
        }
        if (next == line.items().size()) {
            return;
        }
        String keyword = line.items().get(next).text();
        boolean padded = !pad.isEmpty() && !keyword.equals("new"); // new page
        String head =
                indent + keyword + (padded && keyword.length() < pad.length() ? pad.substring(keyword.length()) : "");
        int column = indent.length() + Math.max(pad.length(), keyword.length()) + 1;
        String further = " ".repeat(padded ? column : INDENT.length());
        new Filler(head, further)
                .fill(line.items().subList(next + 1, line.items().size()));
    }

    /** Fills lines with the words of one clause. */
    private final class Filler {
        private final String further;
        private final StringBuilder line;

        Filler(String head, String further) {
            this.line = new StringBuilder(head);
            this.further = further;
        }

        void fill(List<Item> items) {
            boolean commented = false;
            int next = 0;
            while (next < items.size()) {
                if (items.get(next).comment()) {
                    comment(items.get(next++));
                    commented = true;
                    continue;
                }
                int end = piece(items, next, false);
                if (commented || items.get(next).own() || (tooLong(items, next, end) && next > 0)) {
                    end();
                    line.append(further);
                }
                for (int small = next; small < end; small = put(items, small, end)) {
                    continue;
                }
                commented = false;
                next = end;
            }
            end();
        }

        /** Puts words up to where the line may be broken otherwise; where they end. */
        private int put(List<Item> items, int from, int end) {
            int until = tooLong(items, from, end) ? Math.min(end, piece(items, from, true)) : end;
            if (tooLong(items, from, until) && line.length() > further.length()) {
                end();
                line.append(further);
            }
            for (int i = from; i < until; i++) {
                boolean fresh = line.toString().isBlank();
                line.append(items.get(i).glued() || fresh ? "" : " ")
                        .append(items.get(i).text());
            }
            return until;
        }

        private void comment(Item comment) {
            if (comment.own()) {
                end();
                line.append(further).append(comment.text());
            } else {
                line.append("  ").append(comment.text());
            }
        }

        private boolean tooLong(List<Item> items, int from, int end) {
            int length = line.length();
            for (int i = from; i < end; i++) {
                length += items.get(i).text().length() + (items.get(i).glued() ? 0 : 1);
            }
            return length > WIDTH;
        }

        /** Where the words from one on may end a line: behind the next comma, or before a word that joins. */
        private int piece(List<Item> items, int from, boolean small) {
            for (int i = from; i < items.size(); i++) {
                Item item = items.get(i);
                if (item.comment() || (small && i > from && BREAKABLE.contains(item.text()))) {
                    return i;
                }
                if (item.text().equals(",") && item.depth() == 0) {
                    return i + 1;
                }
            }
            return items.size();
        }

        private void end() {
            String text = line.toString().stripTrailing();
            if (!text.isBlank()) {
                out.append(text).append('\n');
            }
            line.setLength(0);
        }
    }
}
