package dev.fiesta.cli.editor;

import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.eclipse.lsp4j.DocumentSymbol;
import org.eclipse.lsp4j.FoldingRange;
import org.eclipse.lsp4j.Range;
import org.eclipse.lsp4j.SymbolKind;

/** What a brief is made of: parameters, inputs, tables with their clauses, the report. */
final class Outline {
    private Outline() {}

    static List<DocumentSymbol> symbols(Documents.Document document) {
        BriefTree tree = document.brief().tree();
        List<DocumentSymbol> symbols = new ArrayList<>();
        tree.parameters()
                .forEach(p -> symbols.add(named(document, p.name(), SymbolKind.Constant, p.at(), "parameter")));
        tree.inputs().forEach(i -> symbols.add(named(document, i.name(), SymbolKind.File, i.at(), "input")));
        for (BriefTree.TableDef table : tree.tables()) {
            DocumentSymbol symbol = named(
                    document,
                    table.name(),
                    SymbolKind.Class,
                    table.at(),
                    "from " + table.from().name());
            symbol.setChildren(
                    table.clauses().stream().map(c -> clause(document, c)).toList());
            symbols.add(symbol);
        }
        if (tree.report() != null) {
            for (BriefTree.Piece piece : tree.report()) {
                Range range = document.positions().of(piece.at());
                symbols.add(
                        new DocumentSymbol(firstLine(document, piece.at()), SymbolKind.String, range, range, "report"));
            }
        }
        symbols.sort(Comparator.comparing(
                (DocumentSymbol s) -> s.getRange().getStart().getLine()));
        return symbols;
    }

    private static DocumentSymbol named(
            Documents.Document document, Ref name, SymbolKind kind, Span at, String detail) {
        String label = name.name().isBlank() ? "(no name)" : name.name();
        Range range =
                document.positions().of(at.start(), Math.max(at.end(), name.at().end()));
        return new DocumentSymbol(label, kind, range, document.positions().of(name.at()), detail);
    }

    private static DocumentSymbol clause(Documents.Document document, Clause clause) {
        Range range = document.positions().of(clause.at());
        return new DocumentSymbol(firstLine(document, clause.at()), SymbolKind.Function, range, range);
    }

    private static String firstLine(Documents.Document document, Span at) {
        String line = document.brief().text().at(at).split("\\R", 2)[0].strip();
        return line.isEmpty() ? "…" : line;
    }

    /** Parts that go over several lines. */
    static List<FoldingRange> folds(Documents.Document document) {
        BriefTree tree = document.brief().tree();
        List<Span> parts = new ArrayList<>();
        tree.inputs().forEach(i -> parts.add(i.at()));
        for (BriefTree.TableDef table : tree.tables()) {
            parts.add(table.at());
            table.clauses().forEach(c -> parts.add(c.at()));
        }
        if (tree.report() != null) {
            tree.report().forEach(p -> parts.add(p.at()));
        }
        return parts.stream()
                .map(p -> document.positions().of(p))
                .filter(r -> r.getStart().getLine() < r.getEnd().getLine())
                .map(r -> new FoldingRange(r.getStart().getLine(), r.getEnd().getLine()))
                .toList();
    }
}
