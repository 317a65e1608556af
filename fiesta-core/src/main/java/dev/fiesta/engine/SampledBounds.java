package dev.fiesta.engine;

import dev.fiesta.crew.GivenTask;
import dev.fiesta.problem.DataException;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.PiecedScan;
import dev.fiesta.source.Portable;
import dev.fiesta.source.Source;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Resources;
import dev.fiesta.value.Column;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** How the values of an order are spread, from some pieces of an input. */
final class SampledBounds {
    private static final int PIECES = 32;
    /** The part of the memory that their rows may take. */
    private static final int PART = 8;

    private SampledBounds() {}

    /**
     * The bounds of the ranges that parts are, for each sink that puts rows into parts; none where no parts are ranges. What is wrong in
     * these pieces is told by who reads them for the tables.
     *
     * @param pass makes one that uses what it is given
     */
    static @Nullable Column[] of(Lane root, Fed fed, int parts, Resources resources, Function<Resources, Pass> pass) {
        List<Lane> lanes = new ArrayList<>();
        root.addTo(lanes);
        if (lanes.stream()
                .noneMatch(
                        l -> l.sink() instanceof PartedRows rows && rows.steps().hasRanges())) {
            return new Column[0];
        }
        Memory some = new Memory(resources.memory().limit() / PART);
        try {
            PassParts sampled = pass.apply(new Resources(resources.threads(), some, new Watch(told -> {})))
                    .handedOver(fed, parts);
            Portable source = (Portable) fed.source();
            source.unnoticed(() -> read(source, (PiecedScan) fed.scan(), sampled));
            return sampled.bounds();
        } catch (IOException e) {
            throw GivenTask.unreadable(e);
        } finally {
            some.discard();
        }
    }

    private static void read(Portable source, PiecedScan all, PassParts into) {
        int pieces = Math.min(PIECES, all.pieces());
        for (int p = 0; p < pieces; p++) {
            int piece = (int) ((long) all.pieces() * p / pieces);
            try (PiecedScan one = source.stretch(piece, piece + 1, all.start(piece))) {
                into.read(one);
            } catch (DataException | Source.Widened e) {
                return;
            }
        }
    }
}
