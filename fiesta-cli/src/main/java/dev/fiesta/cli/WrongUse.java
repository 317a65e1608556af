package dev.fiesta.cli;

import dev.fiesta.problem.Names;
import dev.fiesta.value.Texts;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import picocli.CommandLine;
import picocli.CommandLine.IParameterExceptionHandler;
import picocli.CommandLine.MissingParameterException;
import picocli.CommandLine.Model.ArgSpec;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.TypeConversionException;
import picocli.CommandLine.UnmatchedArgumentException;

/** Says in a sentence what is wrong with the words of a command, and what is right. */
final class WrongUse implements IParameterExceptionHandler {
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
        if (wrong instanceof MissingParameterException missing
                && !missing.getMissing().isEmpty()) {
            arg = missing.getMissing().get(0);
        }
        String value = wrong.getValue();
        if (arg instanceof OptionSpec option && (value == null || value.isEmpty())) {
            return "After " + option.longestName() + " a value is expected: " + option.longestName() + " "
                    + option.paramLabel() + ".";
        }
        if (arg != null && !(arg instanceof OptionSpec)) {
            return arg.paramLabel() + " is missing: fiesta " + command.name() + " " + arg.paramLabel() + ".";
        }
        return arg == null || value == null ? sentence(wrong) : value((OptionSpec) arg, value, wrong);
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
        List<String> near = Names.nearest(word, known);
        return near.isEmpty() ? "" : " Did you mean " + String.join(" or ", near) + "?";
    }

    private static String value(OptionSpec option, String value, ParameterException wrong) {
        String name = option.longestName();
        if (Map.class.isAssignableFrom(option.type())) {
            return "'" + value + "' says nothing to " + name + ": it is written " + name + " " + option.paramLabel()
                    + ".";
        }
        Class<?> type = option.auxiliaryTypes()[option.auxiliaryTypes().length - 1];
        if (type.isEnum()) {
            List<String> known = new ArrayList<>();
            for (Object constant : type.getEnumConstants()) {
                known.add(constant.toString().toLowerCase(Locale.ROOT));
            }
            String written = value.strip();
            for (String part : value.split(",")) {
                written = known.contains(part.strip().toLowerCase(Locale.ROOT)) ? written : part.strip();
            }
            return "'" + written + "' is nothing that " + name + " knows."
                    + meant(written.toLowerCase(Locale.ROOT), known) + " It takes " + String.join(", ", known) + ".";
        }
        if (type == int.class || type == Integer.class) {
            return "'" + value + "' does not fit " + name + ", which takes a whole number.";
        }
        boolean own = wrong.getCause() instanceof TypeConversionException;
        return own ? wrong.getCause().getMessage() + "." : "'" + value + "' does not fit " + name + ".";
    }

    private static String sentence(ParameterException wrong) {
        String message = String.valueOf(wrong.getMessage());
        return message.endsWith(".") ? message : message + ".";
    }
}
