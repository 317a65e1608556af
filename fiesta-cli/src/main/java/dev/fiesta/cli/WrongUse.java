package dev.fiesta.cli;

import dev.fiesta.cli.options.Choices;
import dev.fiesta.cli.options.Failures;
import dev.fiesta.problem.Names;
import dev.fiesta.value.Texts;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import picocli.CommandLine;
import picocli.CommandLine.IParameterExceptionHandler;
import picocli.CommandLine.MissingParameterException;
import picocli.CommandLine.Model.ArgSpec;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.OverwrittenOptionException;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.TypeConversionException;
import picocli.CommandLine.UnmatchedArgumentException;

/** Says in a sentence what is wrong with the words of a command, and what is right. */
final class WrongUse implements IParameterExceptionHandler {
    /** Of words with fewer letters nothing can be guessed. */
    private static final int SHORT = 3;

    @Override
    public int handleParseException(ParameterException wrong, String[] args) {
        CommandLine line = wrong.getCommandLine();
        String command = line.getCommandSpec().qualifiedName();
        String help = line.getParent() == null ? "fiesta help" : command.replaceFirst(" ", " help ");
        line.getErr().println(Texts.printable(said(wrong, line) + " See: " + help));
        return Failures.BRIEF;
    }

    private static String said(ParameterException wrong, CommandLine line) {
        CommandSpec command = line.getCommandSpec();
        if (wrong instanceof UnmatchedArgumentException unmatched) {
            return unmatched(unmatched.getUnmatched().get(0), command, line);
        }
        ArgSpec arg = wrong.getArgSpec();
        if (wrong instanceof MissingParameterException missing) {
            arg = missing.getMissing().isEmpty() ? arg : missing.getMissing().get(0);
            if (arg instanceof OptionSpec needed
                    && String.valueOf(wrong.getMessage()).startsWith("Missing required option")) {
                return written(needed) + " is missing.";
            }
            return arg instanceof OptionSpec option
                    ? "After " + option.longestName() + " a value is expected: " + written(option) + "."
                    : Objects.requireNonNull(arg).paramLabel() + " is missing: " + written(command) + ".";
        }
        if (wrong instanceof OverwrittenOptionException twice && twice.getOverwritten() instanceof OptionSpec option) {
            return option.longestName() + " stands twice.";
        }
        String value = wrong.getValue();
        if (arg == null || value == null) {
            return sentence(wrong);
        }
        return arg instanceof OptionSpec option && option.arity().max() == 0
                ? option.longestName() + " takes no value."
                : value(arg, value, wrong);
    }

    private static String written(OptionSpec option) {
        return option.longestName() + " " + option.paramLabel();
    }

    private static String written(CommandSpec command) {
        StringBuilder words = new StringBuilder("fiesta " + command.name());
        command.positionalParameters().forEach(p -> words.append(' ').append(p.paramLabel()));
        return words.toString();
    }

    private static String unmatched(String word, CommandSpec command, CommandLine line) {
        if (word.startsWith("-") && word.length() > 1) {
            String name = word.replaceFirst("=.*", "");
            List<String> names = new ArrayList<>();
            command.options().forEach(o -> names.addAll(List.of(o.names())));
            return "There is no option " + name + (line.getParent() == null ? "" : " of '" + command.name() + "'") + "."
                    + meant(name, names);
        }
        return line.getParent() == null
                ? "There is no command '" + word + "'."
                        + meant(word, line.getSubcommands().keySet())
                : "'" + word + "' is one word too many for '" + command.name() + "'.";
    }

    private static String meant(String word, java.util.Collection<String> known) {
        List<String> near = word.length() < SHORT ? List.of() : Names.nearest(word, known);
        return near.isEmpty() ? "" : " Did you mean " + String.join(" or ", near) + "?";
    }

    private static String value(ArgSpec arg, String value, ParameterException wrong) {
        String name = arg instanceof OptionSpec option ? option.longestName() : arg.paramLabel();
        if (arg instanceof OptionSpec option && Map.class.isAssignableFrom(arg.type())) {
            return "'" + value + "' says nothing to " + name + ": it is written " + written(option) + ".";
        }
        List<String> known = Choices.of(arg);
        if (!known.isEmpty()) {
            String written = value.strip();
            for (String part : value.split(",")) {
                written = known.contains(part.strip().toLowerCase(Locale.ROOT)) ? written : part.strip();
            }
            return "'" + written + "' is nothing that " + name + " knows."
                    + meant(written.toLowerCase(Locale.ROOT), known) + " It takes " + String.join(", ", known) + ".";
        }
        if (arg.type() == int.class || arg.type() == Integer.class) {
            return "'" + value + "' does not fit " + name + ", which takes a whole number.";
        }
        return wrong.getCause() instanceof TypeConversionException own
                ? own.getMessage() + "."
                : "'" + value + "' does not fit " + name + ".";
    }

    private static String sentence(ParameterException wrong) {
        String message = String.valueOf(wrong.getMessage());
        return message.endsWith(".") ? message : message + ".";
    }
}
