package dev.fiesta.operate;

import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;

/** Other tables that steps look at, worked out when they are first asked for. */
public interface Others {
    /** The rows of a table by visible field, where they are. */
    Stored stored(TablePlan table);

    /** The rows of a table by visible field, in memory. */
    Rows rows(TablePlan table);

    /** What a look-up reads of the other table, in memory. */
    default Rows lookedUp(dev.fiesta.step.MatchStep match) {
        return stored(match.table()) instanceof SpilledRows file ? file.load(match.theirFields()) : rows(match.table());
    }
}
