package dev.fiesta.brief;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.BriefException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.BiConsumer;
import org.jspecify.annotations.Nullable;

/** Reads the briefs that one uses, and those that they use, each once. */
public final class UsedBriefs {
    private final BiConsumer<Path, String> refuse;
    private final Map<Path, Placed> parts = new LinkedHashMap<>();
    /** Those that are being read: none may use one that uses it. */
    private final Set<Path> open = new LinkedHashSet<>();

    private UsedBriefs(BiConsumer<Path, String> refuse) {
        this.refuse = refuse;
    }

    /**
     * {@return a brief behind those that it uses, each behind those that it uses itself}
     *
     * @param folder where its paths start
     * @param refuse is told of each file that would be read, with the folder where its path starts
     * @throws BriefException when one cannot be right, is not there, or uses itself
     */
    public static List<Placed> with(BriefText text, Path folder, BiConsumer<Path, String> refuse) {
        BriefTree tree = Parser.brief(text);
        UsedBriefs used = new UsedBriefs(refuse);
        used.open.add(folder.resolve(text.name()).toAbsolutePath().normalize());
        used.read(tree, folder);
        List<Placed> all = new ArrayList<>(used.parts.values());
        all.add(new Placed(tree, folder));
        return all;
    }

    private void read(BriefTree brief, Path folder) {
        for (BriefTree.Use use : brief.uses()) {
            refuse.accept(folder, use.path());
            Path file = folder.resolve(use.path()).toAbsolutePath().normalize();
            if (!open.add(file)) {
                throw problem(brief, use, "'" + use.path() + "' uses this brief, so neither can come first.", null);
            }
            if (!Files.isRegularFile(file)) {
                throw problem(brief, use, "There is no brief '" + use.path() + "'.", "Paths start in this folder.");
            }
            if (!parts.containsKey(file)) {
                BriefTree used = Parser.brief(
                        new BriefText(use.path(), BriefText.read(file).text()));
                Path own = Objects.requireNonNull(file.getParent()); // a file stands in a folder
                read(used, own);
                parts.put(file, new Placed(used, own));
            }
            open.remove(file);
        }
    }

    private static BriefException problem(
            BriefTree brief, BriefTree.Use use, String message, @Nullable String suggestion) {
        return new BriefException(List.of(brief.source().problem(use.at(), message, suggestion)));
    }
}
