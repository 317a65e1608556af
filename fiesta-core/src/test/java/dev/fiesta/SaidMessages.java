package dev.fiesta;

import com.sun.source.tree.AssignmentTree;
import com.sun.source.tree.BinaryTree;
import com.sun.source.tree.CompilationUnitTree;
import com.sun.source.tree.ConditionalExpressionTree;
import com.sun.source.tree.ExpressionTree;
import com.sun.source.tree.IdentifierTree;
import com.sun.source.tree.LiteralTree;
import com.sun.source.tree.MemberSelectTree;
import com.sun.source.tree.MethodInvocationTree;
import com.sun.source.tree.MethodTree;
import com.sun.source.tree.NewClassTree;
import com.sun.source.tree.ParenthesizedTree;
import com.sun.source.tree.Tree;
import com.sun.source.tree.VariableTree;
import com.sun.source.util.JavacTask;
import com.sun.source.util.SourcePositions;
import com.sun.source.util.TreeScanner;
import com.sun.source.util.Trees;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import javax.tools.JavaCompiler;
import javax.tools.StandardJavaFileManager;
import javax.tools.ToolProvider;

/**
 * The messages that stand in sources, as patterns: what is written out is itself, what is filled in is anything. Found where a
 * problem is made, and through local variables there.
 */
final class SaidMessages {
    /** How many letters must be written out for a pattern to tell anything. */
    private static final int FEWEST = 6;

    /** Which argument of a call is the message. */
    private static final Map<String, Integer> CALLS = Map.of("complaint", 1, "failure", 1, "problem", 1, "expected", 0);

    /** Failures that have no place in a brief. */
    private static final Set<String> FAILURES =
            Set.of("RequestException", "DataException", "MachineException", "CheckException");

    /** @param at file and line */
    record Said(String at, Pattern pattern) {}

    /**
     * A failure.
     *
     * @param texts what is written out of its message, the longer pieces
     */
    record Failing(String at, List<String> texts) {}

    private SaidMessages() {}

    /** The messages with a place in a brief, in the files of some folders. */
    static List<Said> in(Path... folders) throws IOException {
        List<Said> said = new ArrayList<>();
        each(List.of(folders), (unit, places) -> unit.accept(new Finder(unit, places, said), null));
        return said;
    }

    /** The failures without one. */
    static List<Failing> failures(List<Path> folders) throws IOException {
        List<Failing> failures = new ArrayList<>();
        each(
                folders,
                (unit, places) -> unit.accept(
                        new TreeScanner<Void, Void>() {
                            @Override
                            public Void visitNewClass(NewClassTree node, Void none) {
                                if (FAILURES.contains(node.getIdentifier().toString())) {
                                    List<String> texts =
                                            texts(node.getArguments().get(0));
                                    if (!texts.isEmpty()) {
                                        failures.add(new Failing(at(unit, places, node), texts));
                                    }
                                }
                                return super.visitNewClass(node, none);
                            }
                        },
                        null));
        return failures;
    }

    private static List<String> texts(Tree message) {
        List<String> texts = new ArrayList<>();
        message.accept(
                new TreeScanner<Void, Void>() {
                    @Override
                    public Void visitLiteral(LiteralTree node, Void none) {
                        if (node.getValue() instanceof String text
                                && text.strip().length() >= 10) {
                            texts.add(text.strip());
                        }
                        return null;
                    }
                },
                null);
        return texts;
    }

    private static String at(CompilationUnitTree unit, SourcePositions places, Tree node) {
        long line = unit.getLineMap().getLineNumber(places.getStartPosition(unit, node));
        return Path.of(unit.getSourceFile().getName()).getFileName() + ":" + line;
    }

    private static void each(List<Path> folders, BiConsumer<CompilationUnitTree, SourcePositions> look)
            throws IOException {
        List<Path> files = new ArrayList<>();
        for (Path folder : folders) {
            try (Stream<Path> all = Files.walk(folder)) {
                all.filter(f -> f.toString().endsWith(".java")).sorted().forEach(files::add);
            }
        }
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        try (StandardJavaFileManager manager = compiler.getStandardFileManager(null, null, null)) {
            JavacTask task = (JavacTask) compiler.getTask(
                    null, manager, null, List.of("-proc:none"), null, manager.getJavaFileObjectsFromPaths(files));
            SourcePositions places = Trees.instance(task).getSourcePositions();
            for (CompilationUnitTree unit : task.parse()) {
                look.accept(unit, places);
            }
        }
    }

    private static final class Finder extends TreeScanner<Void, Void> {
        private final CompilationUnitTree unit;
        private final SourcePositions places;
        private final List<Said> said;
        private Tree method;

        Finder(CompilationUnitTree unit, SourcePositions places, List<Said> said) {
            this.unit = unit;
            this.places = places;
            this.said = said;
        }

        @Override
        public Void visitMethod(MethodTree node, Void none) {
            Tree outer = method;
            method = node;
            super.visitMethod(node, none);
            method = outer;
            return null;
        }

        @Override
        public Void visitMethodInvocation(MethodInvocationTree node, Void none) {
            String name = node.getMethodSelect() instanceof MemberSelectTree member
                    ? member.getIdentifier().toString()
                    : node.getMethodSelect().toString();
            Integer place = CALLS.get(name);
            if (place != null && node.getArguments().size() > place) {
                boolean expected = name.equals("expected");
                note(node.getArguments().get(place), expected ? " is expected here, not " : "", expected);
            }
            return super.visitMethodInvocation(node, none);
        }

        @Override
        public Void visitNewClass(NewClassTree node, Void none) {
            if (node.getIdentifier().toString().equals("Misuse")) {
                note(node.getArguments().get(1), "", false);
            }
            return super.visitNewClass(node, none);
        }

        private void note(ExpressionTree message, String behind, boolean upper) {
            for (ExpressionTree written : written(message)) {
                StringBuilder pattern = new StringBuilder();
                int letters = append(written, pattern);
                if (letters >= FEWEST) {
                    long line = unit.getLineMap().getLineNumber(places.getStartPosition(unit, written));
                    String file = Path.of(unit.getSourceFile().getName())
                            .getFileName()
                            .toString();
                    Pattern whole = Pattern.compile(
                            ": " + (upper ? "(?i)" : "") + pattern + Pattern.quote(behind) + (upper ? "" : "$"),
                            Pattern.MULTILINE);
                    said.add(new Said(at(unit, places, written), whole));
                }
            }
        }

        /** The texts that an expression may be: both of a choice, all that a local variable is given. */
        private List<ExpressionTree> written(ExpressionTree message) {
            if (message instanceof ParenthesizedTree brackets) {
                return written(brackets.getExpression());
            }
            if (message instanceof ConditionalExpressionTree choice) {
                List<ExpressionTree> both = new ArrayList<>(written(choice.getTrueExpression()));
                both.addAll(written(choice.getFalseExpression()));
                return both;
            }
            if (!(message instanceof IdentifierTree name) || method == null) {
                return List.of(message);
            }
            List<ExpressionTree> given = new ArrayList<>();
            method.accept(
                    new TreeScanner<Void, Void>() {
                        @Override
                        public Void visitVariable(VariableTree node, Void none) {
                            if (node.getName().equals(name.getName()) && node.getInitializer() != null) {
                                given.addAll(written(node.getInitializer()));
                            }
                            return super.visitVariable(node, none);
                        }

                        @Override
                        public Void visitAssignment(AssignmentTree node, Void none) {
                            if (node.getVariable().toString().equals(name.toString())) {
                                given.addAll(written(node.getExpression()));
                            }
                            return super.visitAssignment(node, none);
                        }
                    },
                    null);
            return given;
        }

        /** Adds what an expression looks like; gives how many letters of it are written out. */
        private static int append(Tree part, StringBuilder pattern) {
            if (part instanceof LiteralTree literal && literal.getValue() instanceof String text) {
                // What stands in braces is filled in by whoever tells it.
                String[] pieces = text.split("\\{[a-z]*\\}", -1);
                for (int i = 0; i < pieces.length; i++) {
                    pattern.append(i == 0 ? "" : ".*?").append(Pattern.quote(pieces[i]));
                }
                return text.length();
            }
            if (part instanceof ParenthesizedTree brackets) {
                return append(brackets.getExpression(), pattern);
            }
            if (part instanceof BinaryTree both) {
                return append(both.getLeftOperand(), pattern) + append(both.getRightOperand(), pattern);
            }
            pattern.append(".*?");
            return 0;
        }
    }
}
