package dev.fiesta.problem;

import org.jspecify.annotations.Nullable;

/** The machine failed: a disk is full, a permission is missing, a file cannot be read. */
public final class MachineException extends FiestaException {
    private static final long serialVersionUID = 1L;

    /**
     * @param message what could not be done, with the file
     * @param cause what the machine said
     */
    public MachineException(String message, @Nullable Throwable cause) {
        super(cause == null ? message : message + " (" + cause.getMessage() + ")", cause);
    }

    /**
     * What is told when the virtual machine has no memory left.
     *
     * @param where what needs more
     * @param instead what would help besides more memory
     * @return the text
     */
    public static String memory(String where, String instead) {
        long megabytes = Runtime.getRuntime().maxMemory() >> 20;
        return "The memory of the virtual machine, " + megabytes + " MB, is not enough for " + where
                + ". Give the virtual machine more (-Xmx), or " + instead;
    }
}
