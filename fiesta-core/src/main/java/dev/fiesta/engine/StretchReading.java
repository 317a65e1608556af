package dev.fiesta.engine;

import dev.fiesta.crew.Crew;
import dev.fiesta.crew.Sections;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.PiecedScan;
import dev.fiesta.source.Portable;
import dev.fiesta.source.Source;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Resources;
import dev.fiesta.store.RowBytes;
import dev.fiesta.store.Rows;
import java.io.BufferedInputStream;
import java.io.DataInput;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** What a member of a crew does: it reads some pieces of an input for a run that somebody else has begun, or merges what others have found. */
public final class StretchReading {
    private static final int BUFFER = 1 << 16;

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
     * @param laid opens what others have laid down or answered, by its name
     * @param out takes what came of it
     * @throws MachineException when it is not the same plan
     */
    public void read(List<TablePlan> wanted, DataInput asked, Crew.Laid laid, Sections out) throws IOException {
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
            PassParts parts = pass.handedOver(new Fed(source, some, input, fed, demand.live()), stretch.parts());
            List<MatchStep> lookedUp = parts.lookedUp();
            List<PartSteps> lookingUp = parts.lookingUp();
            if (parts.sign() != stretch.sign()
                    || lookedUp.size() + lookingUp.size() != stretch.looked().size()) {
                throw new MachineException("This member plans the tables otherwise than the one who asks", null);
            }
            for (int i = 0; i < lookedUp.size(); i++) {
                others.put(lookedUp.get(i), rows(laid, stretch.looked().get(i)));
            }
            for (int i = 0; i < lookingUp.size(); i++) {
                lookingUp.get(i).lies(stretch.looked().get(lookedUp.size() + i));
            }
            parts.close(stretch.closed());
            parts.between(stretch.bounds());
            if (stretch.part() != null) {
                PartSteps steps = parts.parted().get(stretch.part().sink()).steps();
                steps.goOn(stretch, laid, flow, resources, new DataOutputStream(out));
            } else if (stretch.answers().isEmpty()) {
                parts.answer(some, stretch.from(), stretch.to(), out);
            } else {
                parts.merge(stretch.answers(), laid, out);
            }
        } finally {
            resources.memory().discard();
        }
    }

    private static Rows rows(Crew.Laid laid, String name) {
        try (DataInputStream in = new DataInputStream(new BufferedInputStream(laid.open(name, 0), BUFFER))) {
            return RowBytes.read(in);
        } catch (IOException e) {
            throw new MachineException("A table that is looked up cannot be read", e);
        }
    }
}
