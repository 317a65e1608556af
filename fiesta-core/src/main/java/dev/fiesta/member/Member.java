package dev.fiesta.member;

import dev.fiesta.brief.FirstTexts;
import dev.fiesta.crew.Crew;
import dev.fiesta.crew.Sections;
import dev.fiesta.engine.StretchReading;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.MachineException;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.PortableSources;
import dev.fiesta.source.Source;
import dev.fiesta.source.files.FileSum;
import dev.fiesta.source.files.SharedFile;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Resources;
import dev.fiesta.store.Shares;
import dev.fiesta.survey.Surveyor;
import dev.fiesta.task.FieldsOnly;
import dev.fiesta.task.PlanText;
import dev.fiesta.task.Task;
import dev.fiesta.value.Packing;
import java.io.ByteArrayInputStream;
import java.io.DataInput;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;

/**
 * Does tasks for runs and surveys that others have begun: reads some pieces of an input, and writes what came of them.
 * Thread-safe.
 */
public final class Member {
    private final String version;
    private final long memory;
    private final Shares shares;
    private final Consumer<Path> refuse;
    private final PortableSources inputs;

    /**
     * @param version of this library
     * @param threads of all tasks together, at least 1
     * @param memory that all tasks together may hold, in bytes
     * @param refuse fails for files that may not be read
     * @param formats of inputs that it reads besides delimited text
     */
    public Member(String version, int threads, long memory, Consumer<Path> refuse, List<InputFormat> formats) {
        this.version = version;
        this.memory = memory;
        this.shares = new Shares(threads, memory);
        this.refuse = refuse;
        this.inputs = new PortableSources(refuse, formats);
    }

    /**
     * Does a task.
     *
     * @param task what is asked
     * @param laid where the other tables lie that are looked up
     * @param out takes the answer, failures of the data among it
     * @throws MachineException when this machine cannot do it, though another one might
     * @throws IOException when the answer cannot be written
     */
    public void work(byte[] task, Crew.Laid laid, Sections out) throws IOException {
        try (Shares.Share share = shares.begin()) {
            Counting counted = new Counting(out);
            try {
                work(task, laid, share.resources(memory, new Watch(told -> {})), counted);
            } catch (OutOfMemoryError e) {
                if (counted.written > 0 || memory <= Memory.tight(memory)) {
                    throw exhausted(e);
                }
                again(task, laid, share, counted);
            }
        }
    }

    private void again(byte[] task, Crew.Laid laid, Shares.Share share, Sections out) throws IOException {
        try {
            work(task, laid, share.resources(Memory.tight(memory), new Watch(told -> {})), out);
        } catch (OutOfMemoryError e) {
            throw exhausted(e);
        }
    }

    private static FiestaException exhausted(OutOfMemoryError e) {
        return Memory.exhausted(e, "a task of a crew").asFailure();
    }

    /** Knows whether anything was written. */
    private static final class Counting extends Sections {
        private final Sections out;
        private long written;

        Counting(Sections out) {
            this.out = out;
        }

        @Override
        public void write(int b) throws IOException {
            written++;
            out.write(b);
        }

        @Override
        public void write(byte[] bytes, int offset, int length) throws IOException {
            written += length;
            out.write(bytes, offset, length);
        }

        @Override
        public void next() throws IOException {
            written++;
            out.next();
        }
    }

    private void work(byte[] task, Crew.Laid laid, Resources resources, Sections out) throws IOException {
        DataInputStream in = new DataInputStream(new ByteArrayInputStream(task));
        Task.refuseOthers(version, in);
        switch (Task.Kind.values()[in.readByte()]) {
            case SUM -> sum(in, new DataOutputStream(out));
            case SURVEY -> Surveyor.answer(inputs.read(in), resources.threads(), in, laid, out);
            case READ -> read(in, laid, resources, out);
        }
    }

    private void sum(DataInput in, DataOutputStream to) throws IOException {
        SharedFile file = SharedFile.read(in, refuse);
        for (long sum : FileSum.some(file.path(), in.readLong(), in.readLong())) {
            to.writeLong(sum);
        }
    }

    private void read(DataInput in, Crew.Laid laid, Resources resources, Sections out) throws IOException {
        PlanText tables = PlanText.read(in);
        Map<String, Source> sources = new LinkedHashMap<>();
        for (int left = in.readInt(); left > 0; left--) {
            sources.put(Packing.text(in), source(in));
        }
        Map<String, TablePlan> known = new LinkedHashMap<>();
        sources.forEach(
                (name, source) -> known.put(name, TablePlan.input(name, source.schema(), new FirstTexts(source))));
        try {
            new StretchReading(sources, resources).read(tables.plan(known), in, laid, out);
        } catch (FiestaException e) {
            throw e;
        } catch (RuntimeException e) {
            throw Interrupted.orItself(e);
        }
    }

    private Source source(DataInput in) throws IOException {
        if (!in.readBoolean()) {
            return new FieldsOnly(Packing.schema(in));
        }
        return inputs.read(in);
    }
}
