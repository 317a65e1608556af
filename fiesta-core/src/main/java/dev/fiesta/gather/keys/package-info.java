/** Numbers of groups: each key gets one, in the order of first meeting. Start at {@link dev.fiesta.gather.keys.GroupTable}. */
@NullMarked
package dev.fiesta.gather.keys;

import org.jspecify.annotations.NullMarked;
