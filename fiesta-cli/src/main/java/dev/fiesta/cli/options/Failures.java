package dev.fiesta.cli.options;

import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Remedy;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.UncheckedIOException;
import picocli.CommandLine;
import picocli.CommandLine.IExecutionExceptionHandler;
import picocli.CommandLine.ParseResult;

/** Tells failures on standard error and turns them into exit statuses. */
public final class Failures implements IExecutionExceptionHandler {
    public static final int CHECK = 1;
    public static final int BRIEF = 2;
    static final int DATA = 3;
    public static final int MACHINE = 4;
    public static final int INTERRUPTED = 130;

    @Override
    public int handleExecutionException(Exception failure, CommandLine line, ParseResult parsed) {
        return tell(failure, line.getErr());
    }

    /** Tells a failure; the exit status for it. */
    public static int tell(Throwable failure, PrintWriter err) {
        if (Window.isTerminal("err")) {
            err.print(ProgressLine.WIPE);
        }
        if (failure instanceof StandardOutput.ReaderGone) {
            return 0;
        }
        if (failure instanceof FiestaException told) {
            err.println(Texts.printable(told.getMessage()));
            told.remedies().forEach(r -> err.println("  On the command line: " + option(r)));
        } else if (failure instanceof IOException || failure instanceof UncheckedIOException) {
            err.println("The machine failed: " + said(failure));
        } else {
            err.println("This is a fault of fiesta itself, please report it:");
            failure.printStackTrace(err);
        }
        return status(failure);
    }

    private static String option(Remedy remedy) {
        return switch (remedy.kind()) {
            case PARAMETER_VALUE -> "--set " + remedy.subject() + "=…";
            case PARAMETER_VALUES -> "--set " + remedy.subject() + "=…,…";
            case MEMORY -> "--memory 2GB";
            case TEMPORARY_FOLDER -> "FIESTA_JAVA_OPTIONS=-Djava.io.tmpdir=FOLDER fiesta …";
            case WHOLE_TABLE -> "--total";
            case REPLACE -> "--replace";
            case ROW_KEYS -> "--key FIELD";
            case KEPT_TABLES -> "run it without --no-kept-tables";
        };
    }

    private static String said(Throwable failure) {
        Throwable under = failure instanceof UncheckedIOException ? failure.getCause() : null;
        Throwable cause = under == null ? failure : under;
        String message = cause.getMessage();
        return message == null ? cause.getClass().getSimpleName() : message;
    }

    private static int status(Throwable failure) {
        if (failure instanceof CheckException) {
            return CHECK;
        }
        if (failure instanceof BriefException || failure instanceof RequestException) {
            return BRIEF;
        }
        return failure instanceof DataException ? DATA : failure instanceof Interrupted ? INTERRUPTED : MACHINE;
    }
}
