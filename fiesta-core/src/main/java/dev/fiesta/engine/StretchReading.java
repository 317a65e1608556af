package dev.fiesta.engine;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.PiecedScan;
import dev.fiesta.source.Portable;
import dev.fiesta.source.Source;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Resources;
import dev.fiesta.store.Rows;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;

/** What a member of a crew does: it reads some pieces of an input for a run that somebody else has begun. */
public final class StretchReading {
    private final Map<String, Source> inputs;
    private final Resources resources;

    /**
     * @param inputs the sources of inputs by name
     * @param resources what it may use
     */
    public StretchReading(Map<String, Source> inputs, Resources resources) {
        this.inputs = inputs;
        this.resources = resources;
    }

    /**
     * Reads.
     *
     * @param wanted the tables that are worked out there, planned here
     * @param asked what {@link Sharing#task} was given there
     * @param laid the other tables that are looked up, by the names under which they lie
     * @param out takes what came of it
     * @throws MachineException when it is not the same plan
     */
    public void read(List<TablePlan> wanted, DataInput asked, Function<String, Rows> laid, DataOutput out)
            throws IOException {
        Demand demand = new Demand();
        demand.add(wanted);
        Stretch stretch = Stretch.read(asked);
        Flow flow = new Flow();
        List<MatchStep> lookUps = demand.lookUps();
        stretch.held().stream().forEach(m -> flow.hold(lookUps.get(m)));
        List<TablePlan> tables = demand.tables();
        TablePlan input = tables.get(stretch.input());
        Portable source = (Portable) Objects.requireNonNull(inputs.get(input.name()));
        Map<MatchStep, Rows> others = new IdentityHashMap<>();
        Pass pass =
                new Pass(flow, m -> Objects.requireNonNull(others.get(m)), new StepCounts(), new Notices(), resources);
        try (PiecedScan some = source.stretch(stretch.from(), stretch.to(), stretch.start())) {
            List<TablePlan> fed = stretch.fed().stream().map(tables::get).toList();
            PassParts parts = pass.handedOver(new Fed(source, some, input, fed, demand.live()));
            List<MatchStep> lookedUp = parts.lookedUp();
            if (parts.sign() != stretch.sign()
                    || lookedUp.size() != stretch.looked().size()) {
                throw new MachineException("This member plans the tables otherwise than the one who asks", null);
            }
            for (int i = 0; i < lookedUp.size(); i++) {
                others.put(lookedUp.get(i), laid.apply(stretch.looked().get(i)));
            }
            parts.close(stretch.closed());
            write(stretch, some, parts, out);
        } finally {
            resources.memory().discard();
        }
    }

    private static void write(Stretch stretch, PiecedScan some, PassParts parts, DataOutput out) throws IOException {
        RuntimeException failure = parts.attempt(some);
        if (failure != null && !FailureBytes.isOfData(failure)) {
            throw failure; // somebody else may do it
        }
        for (int piece = stretch.from(); piece <= stretch.to(); piece++) {
            out.writeLong(some.start(piece));
        }
        out.writeBoolean(failure != null);
        if (failure != null) {
            FailureBytes.write(failure, out);
        } else {
            parts.write(out);
        }
    }
}
