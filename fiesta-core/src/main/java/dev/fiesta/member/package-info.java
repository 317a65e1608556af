/**
 * What a member of a crew does: it is told the tables of a run and reads some pieces of an input for them. Start at {@link
 * dev.fiesta.member.Member}.
 */
@NullMarked
package dev.fiesta.member;

import org.jspecify.annotations.NullMarked;
