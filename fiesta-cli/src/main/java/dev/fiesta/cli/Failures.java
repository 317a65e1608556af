package dev.fiesta.cli;

import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.MachineException;
import java.io.UncheckedIOException;
import picocli.CommandLine;
import picocli.CommandLine.IExecutionExceptionHandler;
import picocli.CommandLine.ParseResult;

/** Tells failures on standard error and turns them into exit statuses. */
final class Failures implements IExecutionExceptionHandler {
    static final int CHECK = 1;
    static final int BRIEF = 2;
    static final int DATA = 3;
    static final int MACHINE = 4;

    @Override
    public int handleExecutionException(Exception failure, CommandLine line, ParseResult parsed) {
        if (System.console() != null) {
            line.getErr().print(ProgressLine.WIPE);
        }
        if (failure instanceof FiestaException || failure instanceof IllegalArgumentException) {
            line.getErr().println(failure.getMessage());
        } else if (failure instanceof UncheckedIOException io) {
            line.getErr().println("The machine failed: " + io.getCause().getMessage());
        } else {
            line.getErr().println("This is a fault of fiesta itself, please report it:");
            failure.printStackTrace(line.getErr());
        }
        return status(failure);
    }

    static int status(Exception failure) {
        if (failure instanceof CheckException) {
            return CHECK;
        }
        if (failure instanceof BriefException || failure instanceof IllegalArgumentException) {
            return BRIEF;
        }
        return failure instanceof DataException ? DATA : failure instanceof MachineException ? MACHINE : MACHINE;
    }
}
