package dev.fiesta.engine;

import dev.fiesta.crew.Crew;
import dev.fiesta.crew.GivenTask;
import dev.fiesta.crew.Sections;
import dev.fiesta.engine.StretchHead.Outcome;
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
import java.util.Arrays;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.IntStream;
import java.util.stream.LongStream;

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
            if (parts.sign() != stretch.sign()
                    || lookedUp.size() != stretch.looked().size()) {
                throw new MachineException("This member plans the tables otherwise than the one who asks", null);
            }
            for (int i = 0; i < lookedUp.size(); i++) {
                others.put(lookedUp.get(i), rows(laid, stretch.looked().get(i)));
            }
            parts.close(stretch.closed());
            if (stretch.part() != null) {
                PartSteps steps = parts.parted().get(stretch.part().sink()).steps();
                steps.goOn(stretch, laid, flow, resources, new DataOutputStream(out));
            } else if (stretch.answers().isEmpty()) {
                read(stretch, some, parts, out);
            } else {
                merge(stretch.answers(), laid, parts, source.ofCells(), out);
            }
        } finally {
            resources.memory().discard();
        }
    }

    private static Rows rows(Crew.Laid laid, String name) {
        try (DataInputStream in = opened(laid, name)) {
            return RowBytes.read(in);
        } catch (IOException e) {
            throw new MachineException("A table that is looked up cannot be read", e);
        }
    }

    private static DataInputStream opened(Crew.Laid laid, String name) throws IOException {
        return new DataInputStream(new BufferedInputStream(laid.open(name, 0), BUFFER));
    }

    private static void read(Stretch stretch, PiecedScan some, PassParts parts, Sections out) throws IOException {
        RuntimeException failure = parts.attempt(some);
        if (failure != null && !FailureBytes.isOfData(failure)) {
            throw failure; // somebody else may do it
        }
        long[] starts = IntStream.rangeClosed(stretch.from(), stretch.to())
                .mapToLong(some::start)
                .toArray();
        if (failure != null) {
            DataOutputStream to = new DataOutputStream(out);
            new StretchHead(starts, Outcome.FAILED).write(to);
            FailureBytes.write(failure, to);
        } else {
            new StretchHead(starts, Outcome.READ).write(new DataOutputStream(out));
            parts.write(out);
        }
    }

    /** Makes one answer of several, if each begins where the one before it ended. */
    private static void merge(List<String> answers, Crew.Laid laid, PassParts parts, Source ofCells, Sections out)
            throws IOException {
        LongStream.Builder starts = LongStream.builder();
        long behind = PiecedScan.UNKNOWN;
        boolean apart = false;
        for (String answer : answers) {
            try (DataInputStream in = opened(laid, answer)) {
                StretchHead head = StretchHead.read(in);
                apart = head.outcome() != Outcome.READ || behind != PiecedScan.UNKNOWN && behind != head.first();
                if (apart) {
                    break;
                }
                Arrays.stream(head.starts(), 0, head.starts().length - 1).forEach(starts::add);
                behind = head.behind();
                parts.read(in, ofCells);
            } catch (IOException e) {
                throw GivenTask.unreadable(e);
            }
        }
        new StretchHead(starts.add(behind).build().toArray(), apart ? Outcome.APART : Outcome.READ)
                .write(new DataOutputStream(out));
        if (!apart) {
            parts.write(out);
        }
    }
}
