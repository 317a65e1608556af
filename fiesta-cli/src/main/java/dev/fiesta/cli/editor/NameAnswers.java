package dev.fiesta.cli.editor;

import dev.fiesta.editing.Meaning;
import dev.fiesta.editing.Occurrence;
import dev.fiesta.language.Span;
import dev.fiesta.problem.Problem;
import dev.fiesta.problem.RequestException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Stream;
import org.eclipse.lsp4j.DocumentHighlight;
import org.eclipse.lsp4j.DocumentHighlightKind;
import org.eclipse.lsp4j.Location;
import org.eclipse.lsp4j.Position;
import org.eclipse.lsp4j.PrepareRenameResult;
import org.eclipse.lsp4j.TextEdit;
import org.eclipse.lsp4j.WorkspaceEdit;
import org.jspecify.annotations.Nullable;

/** Answers about names: where they are made and used, here and in briefs that use each other, and what they could be called. */
final class NameAnswers {
    private final Documents documents;

    NameAnswers(Documents documents) {
        this.documents = documents;
    }

    private @Nullable Occurrence occurrence(Documents.Document document, Position position) {
        return document.brief().occurrence(document.positions().offset(position));
    }

    /** Where what stands at a place is made. */
    List<Location> definition(Documents.Document document, Position position) {
        Occurrence here = occurrence(document, position);
        List<Location> found = new ArrayList<>();
        if (here == null) {
            file(document, document.positions().offset(position)).forEach(found::add);
        } else if (here.meaning().defined() != null) {
            found.add(location(document, Objects.requireNonNull(here.meaning().defined())));
        } else {
            elsewhere(document, here.meaning()).forEach(found::add);
        }
        return found;
    }

    /** The brief that is used at a place. */
    private Stream<Location> file(Documents.Document document, int offset) {
        return document.brief().tree().uses().stream()
                .filter(u -> u.at().start() <= offset && offset <= u.at().end())
                .map(u -> documents.used(document, u.path()))
                .filter(Objects::nonNull)
                .map(d -> location(Objects.requireNonNull(d), new Span(0, 0)));
    }

    /** Where a name is made in a brief that is used. */
    private Stream<Location> elsewhere(Documents.Document document, Meaning meaning) {
        return documents.allUsed(document).stream()
                .flatMap(d -> d.brief().occurrences().stream()
                        .filter(o -> o.defines()
                                && o.meaning().kind() == meaning.kind()
                                && o.meaning().name().equals(meaning.name()))
                        .map(o -> location(d, o.at())))
                .limit(1);
    }

    private static Location location(Documents.Document document, Span at) {
        return new Location(document.uri(), document.positions().of(at));
    }

    /** All places where the same is named: here, and in briefs beside it that use this one. */
    private Map<Documents.Document, List<Occurrence>> uses(Documents.Document document, Occurrence here) {
        Map<Documents.Document, List<Occurrence>> all = new LinkedHashMap<>();
        all.put(document, document.brief().uses(here.meaning()));
        Meaning.Kind kind = here.meaning().kind();
        if (kind != Meaning.Kind.FIELD && here.meaning().defined() != null) {
            for (Documents.Document other : documents.neighbours(document)) {
                List<Occurrence> there = other.brief().occurrences().stream()
                        .filter(o -> o.meaning().kind() == kind
                                && o.meaning().defined() == null
                                && o.meaning().name().equals(here.meaning().name()))
                        .toList();
                all.put(other, there);
            }
        }
        return all;
    }

    /** @param definitions whether the places where it is made are among them */
    List<Location> references(Documents.Document document, Position position, boolean definitions) {
        Occurrence here = occurrence(document, position);
        List<Location> found = new ArrayList<>();
        if (here != null) {
            uses(document, here)
                    .forEach((where, list) -> list.stream()
                            .filter(o -> definitions || !o.defines())
                            .forEach(o -> found.add(location(where, o.at()))));
        }
        return found;
    }

    List<DocumentHighlight> highlights(Documents.Document document, Position position) {
        Occurrence here = occurrence(document, position);
        return here == null
                ? List.of()
                : document.brief().uses(here.meaning()).stream()
                        .map(o -> new DocumentHighlight(
                                document.positions().of(o.at()),
                                o.defines() ? DocumentHighlightKind.Write : DocumentHighlightKind.Read))
                        .toList();
    }

    /** The name that would be changed, or null. */
    @Nullable
    PrepareRenameResult renamable(Documents.Document document, Position position) {
        Occurrence here = occurrence(document, position);
        return here == null
                ? null
                : new PrepareRenameResult(
                        document.positions().of(here.at()), here.meaning().name());
    }

    /**
     * The changes that give what stands at a place another name.
     *
     * @throws RequestException when it cannot have it
     */
    WorkspaceEdit rename(Documents.Document document, Position position, String name) {
        int offset = document.positions().offset(position);
        List<Problem.Fix> changes = document.brief().renamed(offset, name);
        Map<String, List<TextEdit>> all = new LinkedHashMap<>();
        all.put(document.uri(), edits(document, changes));
        Occurrence here = Objects.requireNonNull(document.brief().occurrence(offset));
        String written = changes.get(0).words();
        uses(document, here).forEach((where, list) -> {
            if (where != document && !list.isEmpty()) {
                if (where.brief().names(here.meaning().kind(), name)) {
                    throw new RequestException("'" + where.name() + "' names something '" + name + "' already.");
                }
                all.put(
                        where.uri(),
                        list.stream()
                                .map(o -> new TextEdit(where.positions().of(o.at()), written))
                                .toList());
            }
        });
        return new WorkspaceEdit(all);
    }

    static List<TextEdit> edits(Documents.Document document, List<Problem.Fix> changes) {
        return changes.stream()
                .map(c -> new TextEdit(document.positions().of(c.start(), c.end()), c.words()))
                .toList();
    }
}
