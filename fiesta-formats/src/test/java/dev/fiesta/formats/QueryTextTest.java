package dev.fiesta.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Databases.Parameter;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Queries: where parameters are, and that nothing but one reading statement gets through. */
class QueryTextTest {
    private static final Map<String, Parameter> KNOWN = Map.of(
            "day", new Parameter(false, List.of(1L)),
            "sites", new Parameter(true, List.of("a", "b")),
            "none", new Parameter(true, List.of()));

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "select :day | select ? | [1]",
                "select :day+:day | select ?+? | [1, 1]",
                "select x in (:sites) | select x in (?, ?) | [a, b]",
                "select x in (:none) | select x in (NULL) | []",
                "select x::date, ':day', \":day\" | select x::date, ':day', \":day\" | []",
                "select 'it''s :day', :day; ; | select 'it''s :day', ? | [1]",
                "select E'a\\':day', :day | select E'a\\':day', ? | [1]",
                "select $$:day'$$, $a$ $$ :day $a$, :day | select $$:day'$$, $a$ $$ :day $a$, ? | [1]",
                "select 1 -- :day ) | select 1 -- :day ) | []",
                "select 1 /* :day /* ) */ ' */ + :day | select 1   + ? | [1]",
                "select a ? b | select a ?? b | []",
                "select date':day', e$x$, :day | select date':day', e$x$, ? | [1]",
                "select $é$ ' $é$, :day | select $é$ ' $é$, ? | [1]",
                "select 1 a$b$ -- $b$ :day | select 1 a$b$ -- $b$ :day | []",
                "select a[1:2], $1 | select a[1:2], $1 | []",
                "(select 1) | (select 1) | []",
                "with x as (select 1) table x | with x as (select 1) table x | []",
            })
    void parametersAreBoundWhereTheyAreCode(String query, String text, String values) {
        QueryText read = QueryText.of(query, KNOWN, true);
        assertThat(read.text()).isEqualTo(text);
        assertThat(read.values()).hasToString(values);
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "select :dya | The query asks for :dya, which is no parameter. Did you mean 'day'?",
                "select 1; drop table t | A query is one statement: nothing stands behind its ';'.",
                "select 1) as q; drop table t; select (1 | The query closes a bracket that it does not open.",
                "select a$x$) as q; drop table t; select (1 as b$x$ | The query closes a bracket that it does not open.",
                "select $é$ ' $é$) as q; drop table t; select ('x' | The query closes a bracket that it does not open.",
                "select 1 -- \\r) as q; drop table t; select (1 | The query closes a bracket that it does not open.",
                "select ée'\\') as q; drop table t; select ('' | The query closes a bracket that it does not open.",
                "select $a$ b | The query opens a quote ($a$) that never closes.",
                "select (1 | The query opens a bracket that it does not close.",
                "select 'a | The query opens a quote (') that never closes.",
                "select /* 1 | The query opens a comment (/*) that never closes.",
                "delete from t | A query reads: it begins with 'select' or 'with', not with 'delete'.",
                "-- select\\n/* select */ (update t | A query reads: it begins with 'select' or 'with', not with 'update'.",
                "-- nothing | There is no query.",
            })
    void whatIsNoQueryIsRefused(String query, String message) {
        assertThatThrownBy(() -> QueryText.of(query.replace("\\n", "\n").replace("\\r", "\r"), KNOWN, false))
                .isInstanceOf(RequestException.class)
                .hasMessage(message);
    }

    @ParameterizedTest
    @ValueSource(strings = {"select a from b order by a", "select a from b ORDER   BY a desc limit 3"})
    void anOrderIsSeen(String query) {
        assertThat(QueryText.of(query, KNOWN, false).ordered()).isTrue();
    }

    @Test
    void longTextsAreGoneThrough() {
        String text = "select '" + "it''s ".repeat(200_000) + "', /* " + "/* x */ ".repeat(100_000) + "*/ :day";
        assertThat(QueryText.of(text, KNOWN, false).values()).containsExactly(1L);
    }

    @Test
    void anOrderInsideIsNone() {
        assertThat(QueryText.of("select a from (select 1 order by 1) 'order by'", KNOWN, false)
                        .ordered())
                .isFalse();
    }
}
