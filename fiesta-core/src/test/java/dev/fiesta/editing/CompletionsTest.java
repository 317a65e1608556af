package dev.fiesta.editing;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.editing.Candidate.Kind;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class CompletionsTest {
    private static final String HEAD = Marked.HEAD;

    private static List<String> labels(String marked, Kind kind) {
        return Marked.of(marked).candidates().stream()
                .filter(c -> c.kind() == kind)
                .map(Candidate::label)
                .toList();
    }

    private static List<String> words(String marked) {
        return labels(marked, Kind.WORD);
    }

    @Test
    void whereAPartMayBeginThePartsAreOffered() {
        assertThat(words("|"))
                .containsExactlyInAnyOrder("brief", "settings", "use", "parameter", "input", "table", "report");
        assertThat(words("par|")).containsExactly("parameter");
    }

    @Test
    void whereAClauseMayBeginAllAreOffered() {
        assertThat(labels(HEAD + "table t from sales |", Kind.CLAUSE))
                .contains("only", "per", "hide")
                .hasSize(19);
        assertThat(labels(HEAD + "table t from sales only amount > 3 so|", Kind.CLAUSE))
                .containsExactly("sort");
        assertThat(labels(HEAD + "table t from sales only |", Kind.CLAUSE)).isEmpty();
    }

    @Test
    void fieldsAreThoseOfTheLevelAtThePlace() {
        assertThat(labels(HEAD + "table t from sales only |", Kind.FIELD))
                .containsExactly("sold_at", "site", "item", "amount");
        assertThat(labels(HEAD + "table t from sales per site give total = sum(amount) only |", Kind.FIELD))
                .containsExactly("site", "total");
        assertThat(labels(HEAD + "table t from sales rename site as place drop item sort |", Kind.FIELD))
                .containsExactly("sold_at", "place", "amount");
        assertThat(labels(HEAD + "table t from sales columns site, am|", Kind.FIELD))
                .containsExactly("amount");
    }

    @Test
    void inGiveFieldsOfRecordsStandInTheBracketsAndFiguresOutside() {
        assertThat(labels(HEAD + "table t from sales per site give total = sum(|", Kind.FIELD))
                .containsExactly("sold_at", "site", "item", "amount");
        assertThat(labels(HEAD + "table t from sales per site give total = sum(amount), part = |", Kind.FIELD))
                .containsExactly("site", "total");
        assertThat(labels(HEAD + "table t from sales per site give total = |", Kind.FIELD))
                .containsExactly("site");
        assertThat(labels(HEAD + "table t from sales per site give each(sum, mean of |", Kind.FIELD))
                .contains("amount");
        assertThat(labels(HEAD + "table t from sales add net = amount * 0.9, fee = |", Kind.FIELD))
                .contains("net", "amount");
    }

    @Test
    void figuresOfferFunctionsThatGatherFirst() {
        List<String> functions = labels(HEAD + "table t from sales per site give total = |", Kind.FUNCTION);
        assertThat(functions.get(0)).isEqualTo("count");
        assertThat(functions).contains("sum", "round", "mean");
    }

    @Test
    void wordsAreThoseThatTheGrammarLooksFor() {
        assertThat(words(HEAD + "table t from sales first 3 |"))
                .contains("within", "along")
                .doesNotContain("by");
        assertThat(words(HEAD + "table t from sales first 3 along amount |")).contains("desc", "rest as");
        assertThat(words(HEAD + "table t from sales only site |"))
                .contains("in", "between", "contains", "starts with", "is", "and", "or");
        assertThat(words(HEAD + "table t from sales only site is |")).containsExactlyInAnyOrder("missing", "not");
        assertThat(words(HEAD + "table t from sales per site |")).contains("give", "against");
        assertThat(words(HEAD + "table t from sales add x = sum(amount |"))
                .contains("within", "along", "running", "last");
        assertThat(words(HEAD + "table t from sales add x = sold_at + 7 |")).contains("days", "week");
        assertThat(words(HEAD + "table t from sales columns site |")).contains("money", "bar", "note");
        assertThat(words(HEAD + "table t from sales check amount > 0 |")).contains("or warn");
        assertThat(words(HEAD + "report chart |")).contains("lines", "heat");
    }

    @Test
    void tablesAndTheirFieldsStandWhereTheyAreLookedFor() {
        String two = HEAD + "table prices from sales per item give price = max(amount)\n";
        assertThat(labels(two + "table t from |", Kind.TABLE)).containsExactlyInAnyOrder("sales", "prices");
        assertThat(labels(two + "table t from sales match prices on item bring |", Kind.FIELD))
                .containsExactly("item", "price");
        assertThat(labels(two + "table t from sales match prices on |", Kind.FIELD))
                .contains("site", "item");
        assertThat(labels(two + "table t from sales match prices on item, latest |", Kind.FIELD))
                .containsExactly("item", "price");
        assertThat(labels(two + "table t from sales match each |", Kind.TABLE)).contains("prices");
        assertThat(labels(two + "report figures prices |", Kind.FIELD)).containsExactly("item", "price");
        assertThat(labels(two + "report chart bars prices x item y |", Kind.FIELD))
                .containsExactly("item", "price");
    }

    @Test
    void textsOfAFieldStandBehindAComparison() {
        assertThat(labels(HEAD + "table t from sales only site = |", Kind.VALUE))
                .containsExactly("'Quay'", "'Meadow'");
        assertThat(labels(HEAD + "table t from sales only site in ('Quay', |", Kind.VALUE))
                .contains("'Meadow'");
        Marked typing = Marked.of(HEAD + "table t from sales only site = 'Me|");
        assertThat(typing.candidates()).extracting(Candidate::words).contains("'Meadow'");
        assertThat(typing.candidates().get(0).replaces().start())
                .isEqualTo(typing.text().indexOf("'Me"));
        assertThat(labels(HEAD + "table u from sales per site\ntable t from u only site = |", Kind.VALUE))
                .contains("'Quay'");
    }

    @Test
    void parametersAndTypesAreOffered() {
        String head = "parameter least decimal(2) 'what a sale must bring'\n" + HEAD;
        assertThat(labels(head + "table t from sales only amount >= |", Kind.PARAMETER))
                .containsExactly(":least");
        assertThat(labels(head + "table t from sales only amount >= :le|", Kind.PARAMETER))
                .containsExactly(":least");
        assertThat(labels("parameter day |", Kind.TYPE)).contains("date", "decimal");
        assertThat(labels("input sales from 'x.csv' as |", Kind.FORMAT)).contains("csv", "parquet");
    }

    @Test
    void nothingIsOfferedInACommentOrAFinishedText() {
        assertThat(Marked.of(HEAD + "table t from sales # only |").candidates()).isEmpty();
        assertThat(Marked.of(HEAD + "table t from sales check amount > 0 'not so|")
                        .candidates())
                .isEmpty();
        assertThat(Marked.of(HEAD + "table t from sales only item = '#1' and |").candidates())
                .isNotEmpty();
    }

    @Test
    void namesThatNeedQuotesGetThem() {
        assertThat(Marked.of(HEAD + "table t from sales rename site as \"the site\" sort |")
                        .candidates())
                .extracting(Candidate::words)
                .contains("\"the site\"");
    }

    @Test
    void filesBesideTheBriefStandInPaths(@TempDir Path folder) throws Exception {
        Files.writeString(folder.resolve("sales-1.csv"), "");
        Files.createDirectory(folder.resolve("more"));
        Files.writeString(folder.resolve("more/old.csv"), "");
        assertThat(Marked.in(folder, "input sales from '|").candidates())
                .extracting(Candidate::begun)
                .containsExactly("'more/", "'sales-1.csv'");
        assertThat(Marked.in(folder, "input sales from 'more/o|").candidates())
                .extracting(Candidate::words)
                .containsExactly("'more/old.csv'");
    }

    @Test
    void whatStandsBrokenBeforeDoesNotMatter() {
        String broken = HEAD
                + "table a from sales only amount >\n  sort site\ntable b from sales\n  per site give n = count()\n  only |";
        assertThat(labels(broken, Kind.FIELD)).containsExactly("site", "n");
        assertThat(labels("input sales from 'unknown.csv'\ntable t from sales only |", Kind.FUNCTION))
                .contains("round");
    }
}
