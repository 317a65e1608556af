package dev.fiesta.language;

import dev.fiesta.language.BriefTree.FieldDef;
import dev.fiesta.language.BriefTree.InputOptions;
import dev.fiesta.language.Token.Kind;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** {@code input NAME from 'path' {'path'} [as FORMAT] {option}}, or {@code from database 'name' query 'text' {'text'}} */
final class InputParser {
    private final Cursor words;
    private final ExprParser exprs;

    private @Nullable String as;
    private @Nullable String delimiter;
    private @Nullable String quote;
    private @Nullable String encoding;
    private boolean decimalComma;
    private boolean noHeader;
    private int skip;
    private @Nullable String comment;
    private boolean quotedEmptyAsMissing;
    private boolean fieldsByName;
    private boolean shortRowsAsMissing;
    private boolean bracketsNegative;
    private BriefTree.@Nullable Aside aside;
    private @Nullable String sheet;
    private @Nullable String range;
    private @Nullable String items;
    private @Nullable String each;
    private boolean fromPath;
    private List<BriefTree.Slice> slices = List.of();
    private final List<String> missing = new ArrayList<>();
    private final List<FieldDef> fields = new ArrayList<>();

    InputParser(Cursor words, ExprParser exprs) {
        this.words = words;
        this.exprs = exprs;
    }

    BriefTree.Input input(Span start) {
        Ref name = words.expectName("a name for the input");
        words.expectWord("from", "and the files");
        BriefTree.Query query = words.peek().word("database") ? query() : null;
        List<BriefTree.Path> paths = new ArrayList<>();
        while (query == null && (paths.isEmpty() || words.peek().is(Kind.TEXT))) {
            paths.add(path("a path"));
        }
        while (option()) {
            continue;
        }
        InputOptions options = new InputOptions(
                as,
                delimiter,
                quote,
                encoding,
                decimalComma,
                noHeader,
                skip,
                comment,
                quotedEmptyAsMissing,
                fieldsByName,
                shortRowsAsMissing,
                List.copyOf(missing),
                bracketsNegative,
                aside,
                new BriefTree.Inside(sheet, range, items, each, slices, fromPath));
        return new BriefTree.Input(name, paths, query, options, fields, start.to(words.last()));
    }

    private BriefTree.Path path(String what) {
        Span at = words.peek().at();
        return new BriefTree.Path(words.expectText(what, Expected.Sought.PATH), at);
    }

    /** {@code database 'name' query ('text' {'text'} | from 'file') [parted by COLUMN into N]} */
    private BriefTree.Query query() {
        Span start = words.next().at();
        BriefTree.Path database = path("what the database is called among the connections");
        words.expectWord("query", "and the query");
        BriefTree.Path file = null;
        StringBuilder text = new StringBuilder();
        if (words.takeWord("from")) {
            file = path("the file with the query");
        } else {
            text.append(words.expectText("the query"));
            for (String more = words.findText(); more != null; more = words.findText()) {
                text.append('\n').append(more);
            }
        }
        Ref partedBy = null;
        int parts = 1;
        if (words.takeWords("parted", "by")) {
            partedBy = words.expectName("a column of whole numbers or dates");
            words.expectWord("into", "and how many parts");
            Span at = words.peek().at();
            parts = words.expectInteger("how many parts");
            if (parts < 1 || parts > 64) {
                throw words.failure(at, "A query is read in 1 to 64 parts, not " + parts + ".", null);
            }
        }
        return new BriefTree.Query(
                database, file == null ? text.toString() : null, file, partedBy, parts, start.to(words.last()));
    }

    private BriefTree.Slice slice() {
        Ref name = words.expectName("a field");
        Span at = words.peek().at();
        boolean open = words.takeWord("from");
        int from = words.expectInteger("the field's first character, counted from 1");
        int to = Integer.MAX_VALUE;
        if (!open) {
            words.expectWord("to", "and the field's last character");
            to = words.expectInteger("the field's last character");
        }
        if (from < 1 || to < from) {
            throw words.failure(
                    at.to(words.last()),
                    "'" + name.name()
                            + "' would stand at no characters: they are counted from 1, and both ends belong to it.",
                    "Write for instance 'day 1 to 8, amount 9 to 20, note from 21'.");
        }
        return new BriefTree.Slice(name, from, to);
    }

    private boolean option() {
        if (words.takeWord("as")) {
            as = words.expectName("a format", Expected.Sought.FORMAT).name();
            slices = as.equals("fixed") ? words.list(this::slice) : slices;
        } else if (words.peek().word("fields")
                && words.ahead(1).word("from")
                && words.ahead(2).word("path")) {
            words.next();
            words.next();
            words.next();
            fromPath = true;
        } else if (words.takeWord("sheet")) {
            sheet = words.expectText("the name of a sheet");
        } else if (words.takeWord("range")) {
            range = words.expectText("a range of cells, such as 'B4:H200'");
        } else if (words.takeWord("items")) {
            items = words.expectText("the names that lead to the list, such as 'data.items'");
        } else if (words.takeWord("each")) {
            each = words.expectText("the name of a list in the records");
        } else if (words.takeWords("fields", "by")) {
            words.expectWord("name", "after 'fields by'");
            fieldsByName = true;
        } else if (words.peek().word("fields")) {
            words.starts(Cursor.Start.OPTION);
            words.next();
            fields.addAll(words.list(this::field));
        } else if (words.takeWord("missing")) {
            missing.addAll(words.list(() -> words.expectText("what stands for a missing value")));
        } else if (words.takeWord("delimiter")) {
            delimiter = single("the delimiter");
        } else if (words.takeWords("quoted", "empty")) {
            words.expectWord("as", "and 'missing'");
            words.expectWord("missing", "after 'as'");
            quotedEmptyAsMissing = true;
        } else if (words.takeWord("quote")) {
            quote = single("the quote");
        } else if (words.takeWord("encoding")) {
            encoding = words.expectText("an encoding");
        } else if (words.takeWords("decimal", "comma")) {
            decimalComma = true;
        } else if (words.takeWords("no", "header")) {
            noHeader = true;
        } else if (words.takeWord("skip")) {
            skip = words.expectInteger("the number of lines to skip");
        } else if (words.takeWord("comment")) {
            comment = single("what starts a comment");
        } else if (words.takeWord("brackets")) {
            words.expectWord("negative", "after 'brackets'");
            bracketsNegative = true;
        } else if (words.takeWords("unreadable", "aside")) {
            aside = aside();
        } else if (words.takeWords("short", "rows")) {
            words.expectWord("as", "and 'missing'");
            words.expectWord("missing", "after 'as'");
            shortRowsAsMissing = true;
        } else {
            return false;
        }
        return true;
    }

    private BriefTree.Aside aside() {
        if (words.takeWords("at", "most")) {
            return most();
        }
        if (words.peek().text().matches("most|max|maximum|up|[0-9].*")) {
            throw words.failure(
                    words.peek().at(),
                    "After 'unreadable aside' stands 'at most', then how many records.",
                    "Write for instance 'at most 20' or 'at most 1 percent'.");
        }
        return BriefTree.Aside.USUAL;
    }

    private BriefTree.Aside most() {
        Span at = words.peek().at();
        Expr.Literal value = value();
        boolean percent = words.takeWord("percent");
        BigDecimal most = value.value() instanceof Long n
                ? BigDecimal.valueOf(n)
                : value.value() instanceof BigDecimal d && percent ? d : null;
        if (most == null || most.signum() < 0 || (percent && most.compareTo(BigDecimal.valueOf(100)) > 0)) {
            throw words.failure(
                    at,
                    "After 'at most' stands a number of records, or a part of them in percent.",
                    "Write for instance 'at most 20' or 'at most 1 percent'.");
        }
        return new BriefTree.Aside(most, percent);
    }

    /** What is part of a number cannot be taken out of it. */
    private String without(String text, Span at) {
        if (text.isEmpty() || text.matches(".*[0-9()+.,\\-].*")) {
            throw words.failure(
                    at,
                    "'without' takes no digits, signs, brackets, points or commas out, not '" + text + "'.",
                    "Take units and currencies out: without '€', 'EUR'.");
        }
        return text;
    }

    private String single(String what) {
        Span at = words.peek().at();
        String text = words.expectText(what).replace("\\t", "\t");
        if (text.length() != 1 || text.charAt(0) > 127) {
            throw words.failure(at, "One plain character is expected here, not '" + text + "'.", null);
        }
        return text;
    }

    private FieldDef field() {
        Ref name = words.expectName("a field");
        PartParser.TypeName type = new PartParser.TypeName(words);
        String pattern = words.findText();
        List<String> morePatterns = new ArrayList<>();
        while (pattern != null && words.peek().word("or") && words.ahead(1).is(Kind.TEXT)) {
            words.next();
            morePatterns.add(words.expectText("a pattern"));
        }
        String from = null;
        Expr.Literal byDefault = null;
        boolean badAsMissing = false;
        boolean firstWins = false;
        boolean grouped = false;
        List<String> without = new ArrayList<>();
        while (true) {
            if (words.takeWord("without")) {
                do {
                    Span at = words.peek().at();
                    without.add(without(words.expectText("what is taken out of the value"), at));
                } while (words.peek().sign(",") && words.ahead(1).is(Kind.TEXT) && words.takeSign(","));
            } else if (words.takeWord("grouped")) {
                grouped = true;
            } else if (words.peek().word("first") && words.ahead(1).word("pattern")) {
                words.next();
                words.next();
                words.expectWord("wins", "after 'first pattern'");
                firstWins = true;
            } else if (words.takeWord("from")) {
                from = words.expectName("the column in the file, in double quotes")
                        .name();
            } else if (words.takeWord("default")) {
                byDefault = value();
            } else if (words.takeWords("bad", "as")) {
                words.expectWord("missing", "after 'bad as'");
                badAsMissing = true;
            } else {
                return new FieldDef(
                        name,
                        type.type,
                        type.openScale,
                        pattern,
                        from,
                        byDefault,
                        badAsMissing,
                        morePatterns,
                        firstWins,
                        without,
                        grouped);
            }
        }
    }

    private Expr.Literal value() {
        Expr value = exprs.sum();
        if (value instanceof Expr.Literal literal) {
            return literal;
        }
        if (value instanceof Expr.Negate minus && minus.operand() instanceof Expr.Literal literal) {
            Object negative = literal.value() instanceof Long n
                    ? (Object) (-n)
                    : literal.value() instanceof java.math.BigDecimal d ? d.negate() : null;
            if (negative != null) {
                return new Expr.Literal(literal.type(), negative, value.at());
            }
        }
        throw words.failure(value.at(), "A default is a value written out.", null);
    }
}
