package dev.fiesta.problem;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** The root of all failures that Fiesta tells. */
public abstract sealed class FiestaException extends RuntimeException
        permits BriefException, DataException, CheckException, MachineException, RequestException, Interrupted {
    private static final long serialVersionUID = 1L;

    private final ArrayList<Remedy> remedies = new ArrayList<>();

    FiestaException(@Nullable String message, @Nullable Throwable cause) {
        super(message, cause);
    }

    /** {@return the sentences that tell it; never null} */
    @Override
    public String getMessage() {
        return Objects.requireNonNull(super.getMessage());
    }

    void offer(Remedy remedy) {
        remedies.add(remedy);
    }

    /** {@return what would help besides what the message says; mostly nothing} */
    public List<Remedy> remedies() {
        return List.copyOf(remedies);
    }
}
