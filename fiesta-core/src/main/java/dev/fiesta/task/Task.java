package dev.fiesta.task;

import dev.fiesta.problem.MachineException;
import dev.fiesta.source.Portable;
import dev.fiesta.source.Source;
import dev.fiesta.source.files.SharedFile;
import dev.fiesta.value.Packing;
import java.io.ByteArrayOutputStream;
import java.io.DataInput;
import java.io.DataOutputStream;
import java.io.IOException;
import java.time.zone.ZoneRulesProvider;
import java.util.Arrays;
import java.util.List;
import java.util.Map;

/** A task as bytes: who made it, the tables and the inputs of the run, then what is to be read for them. */
public final class Task {
    private Task() {}

    /** What a task asks for. */
    public enum Kind {
        /** To read pieces of an input for tables. */
        READ,
        /** To work out what tells whether pieces of a file are the ones they were. */
        SUM,
        /** To look at what stands in pieces of an input. */
        SURVEY
    }

    /**
     * To work out sums of a file.
     *
     * @param from the first piece, {@code to} the first behind them, as {@link dev.fiesta.source.files.FileSum} counts them
     */
    public static byte[] sums(String version, SharedFile file, long from, long to) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        DataOutputStream out = begun(Kind.SUM, version, bytes);
        file.write(out);
        out.writeLong(from);
        out.writeLong(to);
        return bytes.toByteArray();
    }

    /**
     * The part that all tasks of a run that read its inputs have in common.
     *
     * @param version of this library
     * @param inputs those of the plan, by name; of those that are not {@link Portable} others know the fields only
     */
    public static byte[] head(String version, PlanText tables, Map<String, Source> inputs) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        DataOutputStream out = begun(Kind.READ, version, bytes);
        tables.write(out);
        Packing.list(out, List.copyOf(inputs.entrySet()), input -> {
            Packing.text(out, input.getKey());
            out.writeBoolean(input.getValue() instanceof Portable);
            if (input.getValue() instanceof Portable source) {
                source.write(out);
            } else {
                Packing.schema(out, input.getValue().schema());
            }
        });
        return bytes.toByteArray();
    }

    /** The part that all tasks of a survey have in common. */
    public static byte[] survey(String version, Portable source) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        DataOutputStream out = begun(Kind.SURVEY, version, bytes);
        source.write(out);
        return bytes.toByteArray();
    }

    private static DataOutputStream begun(Kind kind, String version, ByteArrayOutputStream bytes) throws IOException {
        DataOutputStream out = new DataOutputStream(bytes);
        Packing.texts(out, makers(version));
        out.writeByte(kind.ordinal());
        return out;
    }

    /** The bytes of a task. */
    public static byte[] of(byte[] head, byte[] asked) {
        byte[] all = Arrays.copyOf(head, head.length + asked.length);
        System.arraycopy(asked, 0, all, head.length, asked.length);
        return all;
    }

    private static List<String> makers(String version) {
        return List.of(
                "Fiesta " + version,
                "Java " + Runtime.version().feature(),
                "time zones of "
                        + ZoneRulesProvider.getVersions("UTC").lastEntry().getKey());
    }

    /** Refuses what was asked by a program that may work something else out of the same. */
    public static void refuseOthers(String version, DataInput in) throws IOException {
        List<String> asked = Packing.texts(in);
        List<String> here = makers(version);
        for (int i = 0; i < here.size(); i++) {
            if (!asked.get(i).equals(here.get(i))) {
                throw new MachineException(
                        "This member has " + here.get(i) + ", the one who asks " + asked.get(i)
                                + ". Both must have the same, or the report might not repeat",
                        null);
            }
        }
    }
}
