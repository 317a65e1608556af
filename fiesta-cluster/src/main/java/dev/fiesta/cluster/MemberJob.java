package dev.fiesta.cluster;

import java.util.Objects;
import org.apache.ignite.Ignite;
import org.apache.ignite.lang.IgniteCallable;
import org.apache.ignite.resources.IgniteInstanceResource;
import org.jspecify.annotations.Nullable;

/** A task on its way to a member; what comes back is nothing, or why the member could not do it. */
final class MemberJob implements IgniteCallable<String> {
    private static final long serialVersionUID = 1L;

    private final String run;
    private final String answer;
    private final byte[] task;

    @IgniteInstanceResource
    private transient @Nullable Ignite fabric;

    /**
     * @param run the folder of the run
     * @param answer the name of the file there that takes the answer
     */
    MemberJob(String run, String answer, byte[] task) {
        this.run = run;
        this.answer = answer;
        this.task = task;
    }

    @Override
    public String call() {
        Hands hands = (Hands) Objects.requireNonNull(fabric).configuration().getLifecycleBeans()[0];
        return hands.work(run, answer, task);
    }
}
