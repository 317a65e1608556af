/** What somebody who writes a brief wants to know: what is wrong, what may stand here, what a name means. The door is {@link UnfinishedBrief}. */
@org.jspecify.annotations.NullMarked
package dev.fiesta.editing;
