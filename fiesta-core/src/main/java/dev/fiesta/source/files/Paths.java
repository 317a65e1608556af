package dev.fiesta.source.files;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Names;
import java.io.IOException;
import java.nio.file.FileSystems;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.PathMatcher;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Set;
import java.util.regex.PatternSyntaxException;
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
        if (Files.exists(path) || fixed(text).length() == text.length()) {
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

    /** A path as far as it is no pattern. */
    public static String fixed(String text) {
        return text.replaceAll("(?s)[*?\\[{].*", "");
    }

    private static PathMatcher matcher(String text, String pattern) {
        try {
            return FileSystems.getDefault().getPathMatcher("glob:" + pattern);
        } catch (PatternSyntaxException e) {
            throw new DataException(
                    "There is no file '" + text + "', and its brackets or braces make no pattern of files.",
                    text,
                    0,
                    null,
                    null);
        }
    }

    private static List<Named> glob(Path folder, String text) {
        int fixed = fixed(text).lastIndexOf('/') + 1;
        Path start = folder.resolve(text.substring(0, fixed));
        if (!Files.isDirectory(start)) {
            return List.of();
        }
        String pattern = text.substring(fixed);
        int depth = pattern.contains("**") ? Integer.MAX_VALUE : pattern.split("/").length;
        PathMatcher matcher = matcher(text, pattern);
        List<Named> found = new ArrayList<>();
        try {
            Files.walkFileTree(start, Set.of(), depth, new SimpleFileVisitor<>() {
                @Override
                public FileVisitResult visitFile(Path file, BasicFileAttributes attributes) {
                    Path inside = start.relativize(file);
                    if (Files.isRegularFile(file) && matcher.matches(inside)) {
                        String name = inside.toString().replace('\\', '/');
                        found.add(new Named(text.substring(0, fixed) + name, file));
                    }
                    return FileVisitResult.CONTINUE;
                }

                @Override
                public FileVisitResult preVisitDirectory(Path inside, BasicFileAttributes attributes) {
                    return mayHold(start, inside, pattern) ? FileVisitResult.CONTINUE : FileVisitResult.SKIP_SUBTREE;
                }

                @Override
                public FileVisitResult visitFileFailed(Path inside, IOException why) throws IOException {
                    if (why instanceof NoSuchFileException || !mayHold(start, inside, pattern)) {
                        return FileVisitResult.CONTINUE; // it has just gone, or nothing in it is asked for
                    }
                    throw why;
                }
            });
        } catch (IOException e) {
            throw new MachineException("The folder of '" + text + "' cannot be read", e);
        }
        found.sort(Comparator.comparing(Named::name, BY_CODE_POINT));
        return found;
    }

    /** Whether files in a folder may fit a pattern. */
    private static boolean mayHold(Path start, Path folder, String pattern) {
        if (folder.equals(start) || pattern.contains("**") || pattern.contains("{")) {
            return true;
        }
        Path inside = start.relativize(folder);
        List<String> parts = List.of(pattern.split("/"));
        int depth = inside.getNameCount();
        return depth < parts.size()
                && matcher(pattern, String.join("/", parts.subList(0, depth))).matches(inside);
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
