package dev.fiesta.cli.help;

import dev.fiesta.catalogue.ClauseEntry;
import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.SampleTable;
import java.util.List;

/** The reference of all functions, made from the catalogue that the parser reads. */
final class Reference {
    private Reference() {}

    /** The page as Markdown. */
    static String markdown(List<Entry> entries) {
        StringBuilder page = new StringBuilder();
        page.append(
                "# Functions\n\nMade from the catalogue by `fiesta help reference`; every example is run by a test.\n");
        page.append("Examples of gathering and walking functions look at this table:\n\n```csv\n")
                .append(SampleTable.TEXT)
                .append("```\n");
        Entry.Family family = null;
        for (Entry entry : entries) {
            if (entry.family() != family) {
                family = entry.family();
                page.append("\n## ")
                        .append(family.title())
                        .append("\n\n| function | what it gives | example | result |\n|---|---|---|---|\n");
            }
            page.append("| ")
                    .append(code(entry.usage()))
                    .append(" | ")
                    .append(entry.about())
                    .append(" | ")
                    .append(code(entry.example()))
                    .append(" | ")
                    .append(entry.result().isEmpty() ? "missing" : code(entry.result()))
                    .append(" |\n");
        }
        return page.toString();
    }

    /** The table of clauses as Markdown. */
    static String clauses(List<ClauseEntry> clauses) {
        StringBuilder table = new StringBuilder("| clause | what it does | for instance |\n|---|---|---|\n");
        for (ClauseEntry clause : clauses) {
            table.append("| ")
                    .append(code(clause.form()))
                    .append(" | ")
                    .append(clause.about().replace("|", "\\|"))
                    .append(" | ")
                    .append(clause.example().isEmpty() ? "" : code(clause.example()))
                    .append(" |\n");
        }
        return table.toString();
    }

    private static String code(String text) {
        return "`" + text.replace("|", "\\|") + "`";
    }
}
