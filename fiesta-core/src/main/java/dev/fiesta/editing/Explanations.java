package dev.fiesta.editing;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Keywords;
import dev.fiesta.language.Span;
import dev.fiesta.language.Token;
import dev.fiesta.step.TablePlan;
import dev.fiesta.survey.FieldSurvey;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What is to be said of a word in a brief. */
final class Explanations {
    private final UnfinishedBrief brief;

    Explanations(UnfinishedBrief brief) {
        this.brief = brief;
    }

    @Nullable
    Explanation at(int offset) {
        Occurrence name = brief.occurrence(offset);
        if (name != null) {
            return of(name);
        }
        String start = "";
        List<Token> words = brief.words();
        for (int i = 0; i < words.size(); i++) {
            Token word = words.get(i);
            boolean isName = word.is(Token.Kind.NAME);
            if (isName && begins(word, i)) {
                start = word.text();
            }
            if (isName && word.at().start() <= offset && offset <= word.at().end()) {
                boolean called = words.get(i + 1).is(Token.Kind.SIGN)
                        && words.get(i + 1).text().equals("(");
                return called ? function(word) : word(word, start);
            }
        }
        return null;
    }

    private boolean begins(Token word, int place) {
        boolean step = Keywords.CLAUSES.contains(word.text()) || Keywords.PARTS.contains(word.text());
        boolean piece = Keywords.PIECES.contains(word.text());
        return (step || (piece && word.startsLine()))
                && !(place + 1 < brief.words().size()
                        && List.of("=", "(", ",", ")")
                                .contains(brief.words().get(place + 1).text()));
    }

    private static @Nullable Explanation function(Token word) {
        Entry function = WordLookup.function(word.text());
        return function == null
                ? null
                : new Explanation(
                        word.at(),
                        function.usage(),
                        List.of(
                                function.about(),
                                "For example " + function.example() + " gives " + function.result() + "."));
    }

    private static @Nullable Explanation word(Token word, String start) {
        WordLookup.Said said = WordLookup.word(word.text(), start.isEmpty() ? word.text() : start);
        return said == null ? null : new Explanation(word.at(), said.form(), List.of(said.about()));
    }

    private Explanation of(Occurrence name) {
        return switch (name.meaning().kind()) {
            case FIELD -> field(name);
            case PARAMETER -> parameter(name);
            default -> table(name);
        };
    }

    private Explanation field(Occurrence name) {
        Meaning meaning = name.meaning();
        Field known = known(name.at().start(), meaning.name());
        List<String> lines = new ArrayList<>();
        Span defined = meaning.defined();
        lines.add("From " + meaning.origin()
                + (defined == null ? "" : ", line " + brief.text().line(defined)) + ".");
        if (defined != null && meaning.origin().startsWith("table")) {
            lines.add(made(defined));
        }
        for (var input : brief.around().inputs().entrySet()) {
            FieldSurvey looked = input.getValue().field(meaning.name());
            if (looked != null && meaning.origin().equals("input " + input.getKey())) {
                lines.add(Facts.sentence(looked, input.getValue()));
            }
        }
        return new Explanation(name.at(), meaning.name() + (known == null ? "" : " " + known.type()), lines);
    }

    /** How a field is made: what stands behind its name, up to the end of that line. */
    private String made(Span defined) {
        String text = brief.text().text().substring(defined.start());
        return text.split("[\\r\\n#]", 2)[0].strip().replaceAll(",$", "");
    }

    /** The field as it is known in the clause that stands at a place: before it, else behind it; or in the table that is named there. */
    private @Nullable Field known(int offset, String name) {
        UnfinishedBrief.Stand stand = brief.standing(offset);
        if (stand != null) {
            TablePlan plan = brief.plans().get(stand.table().name().name());
            List<Clause> clauses = stand.table().clauses();
            Schema before = stand.clause() <= 0 || plan == null
                    ? (plan == null || plan.from() == null
                            ? stand.schema()
                            : plan.from().schema())
                    : plan.written()
                            .get(Math.min(stand.clause(), clauses.size()) - 1)
                            .schema();
            Field field = in(before, name);
            return field != null ? field : in(stand.schema(), name);
        }
        return brief.plans().values().stream()
                .map(p -> in(p.schema(), name))
                .filter(f -> f != null)
                .findFirst()
                .orElse(null);
    }

    private static @Nullable Field in(Schema schema, String name) {
        int place = schema.indexOf(name);
        return place < 0 ? null : schema.field(place);
    }

    private Explanation parameter(Occurrence name) {
        for (BriefTree.ParameterDef def : brief.tree().parameters()) {
            if (def.name().name().equals(name.meaning().name())) {
                String head = brief.text().at(def.at()).replaceAll("\\s+", " ");
                return new Explanation(name.at(), head, def.about() == null ? List.of() : List.of(def.about()));
            }
        }
        return new Explanation(
                name.at(),
                "parameter " + name.meaning().name(),
                List.of("From " + name.meaning().origin() + "."));
    }

    private Explanation table(Occurrence name) {
        TablePlan plan = brief.plans().get(name.meaning().name());
        List<String> lines = new ArrayList<>();
        if (plan != null) {
            List<String> keys = plan.levels().keys();
            if (!plan.isInput()) {
                lines.add(
                        keys == null
                                ? "Rows are records."
                                : keys.isEmpty()
                                        ? "One row for all."
                                        : "A row for each " + String.join(", ", keys) + ".");
            }
            lines.add("Fields: "
                    + String.join(
                            ", ",
                            plan.schema().fields().stream()
                                    .map(f -> f.name() + " " + f.type())
                                    .toList())
                    + ".");
        }
        String kind = name.meaning().kind() == Meaning.Kind.INPUT ? "input " : "table ";
        return new Explanation(name.at(), kind + name.meaning().name(), lines);
    }
}
