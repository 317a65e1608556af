package dev.fiesta.trace;

import dev.fiesta.language.BriefTree;

/** A table of a brief. */
record Definition(BriefTree brief, BriefTree.TableDef table) {}
