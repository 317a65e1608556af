/**
 * Several machines that read the inputs of a run together. Start at {@link dev.fiesta.cluster.ClusterCrew} to ask, at {@link
 * dev.fiesta.cluster.MemberNode} to be asked.
 */
@NullMarked
package dev.fiesta.cluster;

import org.jspecify.annotations.NullMarked;
