package dev.fiesta.survey;

import dev.fiesta.crew.Crew;
import dev.fiesta.crew.Sections;
import dev.fiesta.problem.MachineException;
import dev.fiesta.source.Aside;
import dev.fiesta.source.PiecedScan;
import dev.fiesta.source.Portable;
import dev.fiesta.source.Source;
import dev.fiesta.stretch.Sharing;
import dev.fiesta.stretch.Together;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/** Reads all records of a source once, on several threads, and tallies each field. */
public final class Surveyor {
    /** Makes tasks for members of a crew, who {@link #answer} them, of what is asked about a source. */
    @FunctionalInterface
    public interface Tasks {
        /** @param work places files that only this process sees */
        UnaryOperator<byte[]> about(Portable source, Crew.Work work) throws IOException;
    }

    private final int threads;
    private final @Nullable Crew crew;
    private final Tasks tasks;

    /**
     * @param threads that read here
     * @param crew reads large sources together with this, or null
     */
    public Surveyor(int threads, @Nullable Crew crew, Tasks tasks) {
        this.threads = threads;
        this.crew = crew;
        this.tasks = tasks;
    }

    /**
     * Surveys a source; values that do not fit a type that was worked out are counted, not refused, and so are lines that are no records, where most
     * are some.
     *
     * @throws dev.fiesta.problem.DataException when rows cannot be told apart, or a value does not fit a declared type
     */
    public Survey survey(Source wanted) {
        Source source = wanted.lenient();
        Survey survey = survey(source, true);
        boolean most = survey.unreadable() > survey.records();
        return most ? survey(source, false) : survey;
    }

    /** @param aside whether lines that are no records are left out; otherwise one of them is a failure */
    private Survey survey(Source wanted, boolean aside) {
        Source source = wanted;
        while (true) {
            try {
                Aside left = Aside.counting("records");
                return told(look(aside ? settingAside(source, left) : source), left);
            } catch (OutOfMemoryError e) {
                throw new MachineException(
                        "The memory of the virtual machine, "
                                + (Runtime.getRuntime().maxMemory() >> 20) + " MB, is not enough to look at "
                                + source.schema().size() + " fields at once",
                        e);
            } catch (Source.Widened widened) {
                source = widened.source();
            }
        }
    }

    private Survey look(Source source) {
        SurveyFindings findings = new SurveyFindings(source, threads);
        try (Source.Scan scan = source.scan(findings.notices())) {
            if (crew == null) {
                findings.read(scan);
            } else {
                look(findings, source, scan, crew);
            }
        }
        return findings.finish();
    }

    private void look(SurveyFindings findings, Source source, Source.Scan scan, Crew members) {
        try (Crew.Work work = members.begin(Crew.Purpose.TABLES)) {
            if (Sharing.step(members, source, scan) == 0) {
                findings.read(scan);
                return;
            }
            Sharing sharing = new Sharing(members, work, tasks.about((Portable) source, work));
            try (Together together = new Together(sharing, (Portable) source, (PiecedScan) scan, threads)) {
                together.readByOthers(findings, Surveyor::write);
            }
        } catch (IOException e) {
            throw new MachineException("The files of an input cannot be looked at", e);
        }
    }

    private static void write(int from, int to, long start, List<String> answers, DataOutput out) throws IOException {
        out.writeInt(from);
        out.writeInt(to);
        out.writeLong(start);
        Packing.texts(out, answers);
    }

    /**
     * Does what somebody else asks for who surveys.
     *
     * @param source the one that is surveyed there
     * @param asked what {@link Sharing#task} was given there
     * @param laid opens what others have answered
     * @param out takes what came of it
     */
    public static void answer(Portable source, int threads, DataInput asked, Crew.Laid laid, Sections out)
            throws IOException {
        int from = asked.readInt();
        int to = asked.readInt();
        long start = asked.readLong();
        List<String> answers = Packing.texts(asked);
        SurveyFindings findings = new SurveyFindings(source, threads);
        if (!answers.isEmpty()) {
            findings.merge(answers, laid, out);
            return;
        }
        try (PiecedScan some = source.stretch(from, to, start)) {
            findings.answer(some, from, to, out);
        }
    }

    /** The same records without lines that are none, where the source knows lines. */
    private static Source settingAside(Source source, Aside aside) {
        try {
            return source.settingAside(new BitSet(), aside);
        } catch (UnsupportedOperationException e) {
            return source;
        }
    }

    private static Survey told(Survey survey, Aside aside) {
        int count = aside.count();
        if (count == 0) {
            return survey;
        }
        List<String> remarks = new ArrayList<>(survey.remarks());
        boolean many = count * 9L > survey.records(); // more than the usual 10 percent of all
        remarks.add(LocaleStyle.of("en-IE").number(Integer.toString(count))
                + (count == 1 ? " line is no record" : " lines are no records") + " that can be read ("
                + aside.first().get(0).text() + "). To set them aside instead of ending the run: unreadable aside"
                + (many ? " at most " + count : ""));
        return new Survey(survey.records(), survey.fields(), remarks, count);
    }
}
