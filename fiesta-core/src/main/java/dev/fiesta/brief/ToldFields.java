package dev.fiesta.brief;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree.FieldDef;
import dev.fiesta.problem.BriefException;
import dev.fiesta.source.cells.CellRules;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.value.Kind;
import dev.fiesta.value.TimePattern;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What a brief tells of the fields of inputs, as who reads them needs it. */
final class ToldFields {
    private final BriefText text;
    private final String language;

    /** @param language of the names of months and days in data */
    ToldFields(BriefText text, String language) {
        this.text = text;
        this.language = language;
    }

    /** @throws BriefException when it cannot be right */
    FieldSpec spec(FieldDef field) {
        if (field.pattern() != null) {
            refusePattern(field, field.pattern());
            field.morePatterns().forEach(p -> refusePattern(field, p));
        }
        boolean number = field.type().isNumeric();
        if (!number && (field.grouped() || !field.without().isEmpty())) {
            throw problem(
                    field,
                    "'without' and 'grouped' are for numbers, '" + field.name().name() + "' is "
                            + field.type().withArticle() + ".");
        }
        if (field.openScale() && (field.grouped() || !field.without().isEmpty())) {
            throw problem(
                    field,
                    "Say how many digits stand behind the point: "
                            + field.name().name() + " decimal(2).");
        }
        Object byDefault = field.byDefault() == null
                ? null
                : fitted(field, field.byDefault().value());
        String column = field.from() == null ? field.name().name() : field.from();
        return new FieldSpec(
                field.name().name(),
                column,
                field.type(),
                true,
                field.openScale(),
                field.pattern(),
                byDefault,
                field.badAsMissing(),
                new CellRules(field.morePatterns(), field.firstWins(), language, field.without(), field.grouped()));
    }

    private void refusePattern(FieldDef field, String pattern) {
        if (field.type().kind() != Kind.DATE && field.type().kind() != Kind.DATETIME) {
            throw problem(
                    field,
                    "Only dates and datetimes have a pattern, '" + field.name().name() + "' is "
                            + field.type().withArticle() + ".");
        }
        try {
            TimePattern.of(pattern, field.type().kind() == Kind.DATETIME, language);
        } catch (IllegalArgumentException e) {
            throw problem(field, "The pattern '" + pattern + "' cannot be read: " + e.getMessage() + ".");
        }
    }

    private @Nullable Object fitted(FieldDef field, @Nullable Object value) {
        Type type = field.type();
        boolean fits = switch (type.kind()) {
            case INTEGER -> value instanceof Long;
            case DECIMAL ->
                value instanceof Long
                        || (value instanceof BigDecimal d
                                && (field.openScale() || d.stripTrailingZeros().scale() <= type.scale()));
            case REAL -> value instanceof Number;
            case TEXT -> value instanceof String;
            case DATE -> value instanceof java.time.LocalDate;
            case DATETIME -> value instanceof java.time.LocalDateTime;
            case TRUTH -> value instanceof Boolean;
            default -> false;
        };
        if (!fits) {
            throw problem(field, "The default of '" + field.name().name() + "' is not " + type.withArticle() + ".");
        }
        return value;
    }

    private BriefException problem(FieldDef field, String message) {
        return new BriefException(List.of(text.problem(field.name().at(), message, null)));
    }
}
