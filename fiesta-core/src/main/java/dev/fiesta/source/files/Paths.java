package dev.fiesta.source.files;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Names;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.nio.file.PathMatcher;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;

/** Finds the files of a path or glob. */
public final class Paths {
    /** Names by their characters. */
    static final Comparator<String> BY_CODE_POINT = Comparator.comparing(
            name -> name.codePoints().mapToObj(c -> String.format("%06x", c)).reduce("", String::concat));

    private Paths() {}

    /**
     * A file with the name under which it is told of.
     *
     * @param name as the brief names it, or for a glob its path from the folder of the brief
     */
    public record Named(String name, Path path) {}

    /**
     * The files that fit, in code-point order of their paths; {@code -} is standard input.
     *
     * @param folder where relative paths start
     * @throws DataException when there is none
     */
    public static List<Named> find(Path folder, String text) {
        if (text.equals("-")) {
            return List.of(Spool.standardInput());
        }
        Path path = path(folder, text);
        if (Files.exists(path) || !text.matches("(?s).*[*?\\[].*")) {
            return List.of(file(new Named(text, path)));
        }
        List<Named> found = glob(folder, text);
        if (found.isEmpty()) {
            throw new DataException("No file fits '" + text + "'.", text, 0, null, null);
        }
        return found;
    }

    /**
     * A file as it can be read; what comes through a pipe is in a temporary one.
     *
     * @throws DataException when it is not there, or is a folder
     */
    public static Named file(Named file) {
        String text = file.name();
        if (!Files.exists(file.path())) {
            throw new DataException("There is no file '" + text + "'." + near(file.path()), text, 0, null, null);
        }
        if (Files.isDirectory(file.path())) {
            throw new DataException(
                    "'" + text + "' is a folder, not a file. Write '" + text + "/*.csv' for the files in it.",
                    text,
                    0,
                    null,
                    null);
        }
        return isPipe(file.path()) ? Spool.pipe(file) : file;
    }

    private static Path path(Path folder, String text) {
        try {
            return folder.resolve(text);
        } catch (InvalidPathException e) {
            throw new DataException("'" + text + "' cannot be a path: " + e.getReason() + ".", text, 0, null, null);
        }
    }

    /** Whether what a path leads to can be read but once: standard input, or a pipe. */
    public static boolean isOnceOnly(Path folder, String text) {
        return text.equals("-") || isPipe(path(folder, text));
    }

    /** Whether a path leads to a pipe, which can be read but once. */
    public static boolean isPipe(Path path) {
        return Files.exists(path) && !Files.isRegularFile(path) && !Files.isDirectory(path);
    }

    private static List<Named> glob(Path folder, String text) {
        int fixed = text.replaceAll("[*?\\[].*", "").lastIndexOf('/') + 1;
        Path start = folder.resolve(text.substring(0, fixed));
        if (!Files.isDirectory(start)) {
            return List.of();
        }
        String pattern = text.substring(fixed);
        int depth = pattern.contains("**") ? Integer.MAX_VALUE : pattern.split("/").length;
        PathMatcher matcher = start.getFileSystem().getPathMatcher("glob:" + pattern);
        try (Stream<Path> files = Files.walk(start, depth)) {
            List<Named> found = new ArrayList<>();
            files.filter(p -> Files.isRegularFile(p) && matcher.matches(start.relativize(p)))
                    .forEach(p -> found.add(new Named(
                            text.substring(0, fixed)
                                    + start.relativize(p).toString().replace('\\', '/'),
                            p)));
            found.sort(Comparator.comparing(Named::name, BY_CODE_POINT));
            return found;
        } catch (IOException e) {
            throw new MachineException("The folder of '" + text + "' cannot be read.", e);
        }
    }

    /** A sentence with the files nearby whose names look alike. */
    private static String near(Path path) {
        Path parent = path.toAbsolutePath().getParent();
        if (parent == null || !Files.isDirectory(parent)) {
            return "";
        }
        try (Stream<Path> files = Files.list(parent)) {
            List<String> names = files.filter(Files::isRegularFile)
                    .map(p -> p.getFileName().toString())
                    .sorted()
                    .toList();
            List<String> near = Names.nearest(path.getFileName().toString(), names);
            return near.isEmpty() ? "" : " There is '" + String.join("', '", near) + "'.";
        } catch (IOException e) {
            return "";
        }
    }
}
