package dev.fiesta.engine;

import dev.fiesta.plan.TablePlan;

/** Other tables that steps look at, worked out when they are first asked for. */
interface Others {
    /** The rows of a table by visible field, where they are. */
    Stored stored(TablePlan table);

    /** The rows of a table by visible field, in memory. */
    Rows rows(TablePlan table);
}
