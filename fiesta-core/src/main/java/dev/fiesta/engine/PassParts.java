package dev.fiesta.engine;

import dev.fiesta.crew.Sections;
import dev.fiesta.source.Portable;
import dev.fiesta.source.Source;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.Step;
import dev.fiesta.stretch.Findings;
import dev.fiesta.stretch.NoticeBytes;
import dev.fiesta.value.Column;
import java.io.DataInput;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** What several tables find in the records of an input. */
final class PassParts implements Findings {
    private final Pass pass;
    private final List<Lane> lanes = new ArrayList<>();
    private final TextsMet texts;
    private final Portable source;

    PassParts(Pass pass, Lane root, TextsMet texts, Portable source) {
        this.source = source;
        this.pass = pass;
        this.texts = texts;
        root.addTo(lanes);
    }

    private List<Sink> sinks() {
        return lanes.stream().map(Lane::sink).filter(Objects::nonNull).toList();
    }

    @Override
    public boolean anyCounts() {
        return sinks().stream().anyMatch(s -> s.left() > 0 && s.left() < Long.MAX_VALUE);
    }

    /** The sinks that want no more rows, by their order. */
    BitSet closed() {
        BitSet closed = new BitSet();
        List<Sink> all = sinks();
        for (int i = 0; i < all.size(); i++) {
            closed.set(i, all.get(i).left() <= 0);
        }
        return closed;
    }

    /** Closes those. */
    void close(BitSet closed) {
        List<Sink> all = sinks();
        closed.stream().forEach(i -> all.get(i).close());
    }

    @Override
    public boolean reduces() {
        return sinks().stream().allMatch(s -> s.reduces() || s.left() <= 0);
    }

    @Override
    public boolean hasEnough() {
        return pass.hasEnough();
    }

    /** The look-ups on the way, each once. */
    List<MatchStep> lookedUp() {
        Map<MatchStep, Boolean> met = new IdentityHashMap<>();
        List<MatchStep> all = new ArrayList<>();
        for (Lane lane : lanes) {
            for (Step step : lane.way().steps().subList(lane.first(), lane.end())) {
                if (step instanceof MatchStep match && met.put(match, true) == null) {
                    all.add(match);
                }
            }
        }
        return all;
    }

    /** Tells whether somebody else has planned the same. */
    int sign() {
        StringBuilder all = new StringBuilder();
        for (Lane lane : lanes) {
            lane.way().steps().forEach(step -> all.append(step.word()).append(' '));
            all.append(lane.way().live())
                    .append(lane.way().passedOn())
                    .append(lane.first())
                    .append(lane.end());
        }
        return all.toString().hashCode();
    }

    @Override
    public void read(Source.Scan some) {
        pass.workers(some, lanes.get(0), texts);
    }

    @Override
    public boolean stands() {
        return !parted().isEmpty();
    }

    /** Those whose rows are put into parts, which others go on with. */
    List<PartedRows> parted() {
        return sinks().stream()
                .filter(PartedRows.class::isInstance)
                .map(PartedRows.class::cast)
                .toList();
    }

    /** Those of which the rows look a table up that is in parts as they are. */
    List<PartSteps> lookingUp() {
        return parted().stream()
                .map(PartedRows::steps)
                .filter(s -> s.lookedUp() != null)
                .toList();
    }

    /** Tells the bounds of the ranges that parts are. */
    void between(@Nullable Column[] bounds) {
        List<PartedRows> parted = parted();
        for (int i = 0; i < bounds.length; i++) {
            parted.get(i).steps().between(bounds[i]);
        }
    }

    /** The bounds of the ranges that parts are, for each that takes such rows in; null where they are none, or nothing is known. */
    @Nullable
    Column[] bounds() throws IOException {
        List<PartedRows> parted = parted();
        @Nullable Column[] bounds = new Column[parted.size()];
        for (int i = 0; i < bounds.length; i++) {
            bounds[i] = parted.get(i).steps().hasRanges() ? parted.get(i).bounds() : null;
        }
        return bounds;
    }

    @Override
    public void write(Sections all) throws IOException {
        DataOutputStream out = new DataOutputStream(all);
        out.writeLong(pass.readRows());
        for (Lane lane : lanes) {
            pass.counted().write(lane, out);
        }
        texts.write(out);
        for (MatchStep match : lookedUp()) {
            pass.join(match).write(out);
        }
        NoticeBytes.write(pass.notices(), out);
        source.writeAside(out);
        for (Sink sink : sinks()) {
            sink.write(out);
        }
        for (PartedRows parts : parted()) {
            parts.writeParts(all);
        }
    }

    @Override
    public void read(DataInput in) throws IOException {
        pass.readRows(in.readLong());
        for (Lane lane : lanes) {
            pass.counted().read(lane, in);
        }
        texts.read(in);
        for (MatchStep match : lookedUp()) {
            pass.join(match).read(in);
        }
        NoticeBytes.read(pass.notices(), source.ofCells(), in);
        source.readAside(in);
        for (Sink sink : sinks()) {
            sink.read(in);
        }
    }
}
