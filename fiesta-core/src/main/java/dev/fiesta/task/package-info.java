/** What a run asks of others, as bytes: its tables as text, its inputs, what is to be read. Start at {@link dev.fiesta.task.Task}. */
@NullMarked
package dev.fiesta.task;

import org.jspecify.annotations.NullMarked;
