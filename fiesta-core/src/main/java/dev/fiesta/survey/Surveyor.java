package dev.fiesta.survey;

import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.Aside;
import dev.fiesta.source.Source;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import dev.fiesta.work.EarliestFailure;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Reads all records of a source once, on several threads, and tallies each field. */
public final class Surveyor {
    private final Source source;
    private final Schema schema;
    private final Notices notices;
    private final List<Sheet> sheets = new ArrayList<>();
    private final EarliestFailure failures = new EarliestFailure();

    private Surveyor(Source source, Notices notices) {
        this.source = source;
        this.schema = source.schema();
        this.notices = notices;
    }

    /**
     * Surveys a source; values that do not fit a type that was worked out are counted, not refused, and so are lines that are no records, where most
     * are some.
     *
     * @throws dev.fiesta.problem.DataException when rows cannot be told apart, or a value does not fit a declared type
     */
    public static Survey survey(Source wanted, int threads) {
        Survey survey = survey(wanted.lenient(), threads, true);
        boolean most = survey.unreadable() > survey.records();
        return most ? survey(wanted.lenient(), threads, false) : survey;
    }

    /** @param aside whether lines that are no records are left out; otherwise one of them is a failure */
    private static Survey survey(Source wanted, int threads, boolean aside) {
        Source source = wanted;
        while (true) {
            try {
                Aside left = Aside.counting("records");
                Source readable = aside ? settingAside(source, left) : source;
                return told(new Surveyor(readable, new Notices()).run(threads), left);
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

    private Survey run(int threads) {
        try (Source.Scan scan = source.scan(notices)) {
            Workers.run(threads, () -> work(scan), () -> {
                scan.stop(0);
                failures.met(0, new Interrupted());
            });
        }
        try {
            failures.rethrow();
        } catch (RuntimeException e) {
            throw Interrupted.orItself(e);
        }
        Sheet all = sheets.get(0);
        sheets.subList(1, sheets.size()).forEach(all::merge);
        Map<String, Long> bad = new HashMap<>();
        notices.list().stream()
                .filter(n -> n.kind() == Notices.Kind.BAD_AS_MISSING)
                .forEach(n -> bad.put(n.subject(), n.count()));
        List<FieldSurvey> fields = new ArrayList<>();
        for (int f = 0; f < schema.size(); f++) {
            String name = schema.field(f).name();
            fields.add(all.tallies.get(f).finish(name, all.rows, bad.getOrDefault(name, 0L)));
        }
        return new Survey(all.rows, fields, notices.warnings(), 0);
    }

    private void work(Source.Scan scan) {
        Sheet sheet = new Sheet(schema);
        synchronized (this) {
            sheets.add(sheet);
        }
        Source.Reader reader = scan.reader(notices);
        try {
            for (Batch batch = reader.next(); batch != null; batch = reader.next()) {
                sheet.add(batch);
                reader.settled(Integer.MAX_VALUE);
                reader.finish();
                if (Thread.currentThread().isInterrupted()) {
                    throw new Interrupted();
                }
            }
        } catch (RuntimeException e) {
            scan.stop(reader.sequence());
            failures.met(reader.sequence(), e);
        } catch (Error e) {
            scan.stop(0);
            failures.met(e);
        }
    }

    /** What one worker has seen. */
    private static final class Sheet {
        private final List<Tally> tallies = new ArrayList<>();
        private final Draw draw;
        private long rows;

        Sheet(Schema schema) {
            schema.fields().forEach(f -> tallies.add(tally(f.type())));
            draw = new Draw(schema.size());
        }

        private static Tally tally(Type type) {
            return type.kind() == Kind.TEXT ? new TextTally() : new ValueTally(type);
        }

        void add(Batch batch) {
            rows += batch.size();
            long[] origins = ((LongColumn) batch.column(tallies.size() + 1).flat()).values();
            while (draw.wouldBeOverfull(origins, batch.size())) {
                thin(draw.level() + 1);
            }
            int count = draw.draw(origins, batch.size());
            for (int f = 0; f < tallies.size(); f++) {
                tallies.get(f).add(batch.once(f), draw.picked(), count);
            }
        }

        private void thin() {
            while (draw.isOverfull()) {
                thin(draw.level() + 1);
            }
        }

        private void thin(int level) {
            int[] stay = draw.thin(level);
            tallies.forEach(t -> t.thin(stay));
        }

        void merge(Sheet other) {
            int level = Math.max(draw.level(), other.draw.level());
            thin(level);
            other.thin(level);
            draw.merge(other.draw);
            for (int f = 0; f < tallies.size(); f++) {
                tallies.get(f).merge(other.tallies.get(f));
            }
            rows += other.rows;
            thin();
        }
    }
}
