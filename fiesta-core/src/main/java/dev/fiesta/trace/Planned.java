package dev.fiesta.trace;

import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Clause;
import dev.fiesta.plan.Parameters;
import dev.fiesta.plan.Planner;
import dev.fiesta.step.TablePlan;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Briefs and what was planned of them, from which more is planned.
 *
 * @param briefs those used by others before them
 * @param parameters their values
 * @param plans all tables and inputs by name
 */
public record Planned(List<BriefTree> briefs, Parameters parameters, Map<String, TablePlan> plans) {
    /** {@return where a table is defined; null for inputs} */
    @Nullable
    Definition definition(String table) {
        for (BriefTree brief : briefs) {
            for (BriefTree.TableDef def : brief.tables()) {
                if (def.name().name().equals(table)) {
                    return new Definition(brief, def);
                }
            }
        }
        return null;
    }

    /** A table that begins where another one does, but has these clauses. */
    TablePlan like(Definition table, String name, List<Clause> clauses, Map<String, TablePlan> known) {
        return Planner.like(table.brief(), table.table(), name, clauses, parameters, known);
    }
}
