package dev.fiesta.survey;

import dev.fiesta.crew.Sections;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.Portable;
import dev.fiesta.source.Source;
import dev.fiesta.stretch.Findings;
import dev.fiesta.stretch.NoticeBytes;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Schema;
import dev.fiesta.work.EarliestFailure;
import dev.fiesta.work.Workers;
import java.io.DataInput;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** What a survey sees of records: each worker has a sheet of its own, which are brought together at the end. */
final class SurveyFindings implements Findings {
    private final Source source;
    private final Schema schema;
    private final int threads;
    private final Notices notices = new Notices();
    private final List<Sheet> sheets = new ArrayList<>();

    SurveyFindings(Source source, int threads) {
        this.source = source;
        this.schema = source.schema();
        this.threads = threads;
    }

    /** Where is counted what cannot be read. */
    Notices notices() {
        return notices;
    }

    @Override
    public void read(Source.Scan some) {
        EarliestFailure failures = new EarliestFailure();
        Workers.run(threads, () -> work(some, failures), () -> {
            some.stop(0);
            failures.met(0, new Interrupted());
        });
        try {
            failures.rethrow();
        } catch (RuntimeException e) {
            throw Interrupted.orItself(e);
        }
    }

    private void work(Source.Scan scan, EarliestFailure failures) {
        Sheet sheet = new Sheet(schema);
        Source.Reader reader = scan.reader(notices);
        try {
            for (Batch batch = reader.next(); batch != null; batch = reader.next()) {
                sheet.add(batch);
                reader.settled(Integer.MAX_VALUE);
                reader.finish();
                Workers.stopIfInterrupted();
            }
            add(sheet);
        } catch (RuntimeException e) {
            scan.stop(reader.sequence());
            failures.met(reader.sequence(), e);
        } catch (Error e) {
            scan.stop(0);
            failures.met(e);
        }
    }

    private synchronized void add(Sheet sheet) {
        sheets.add(sheet);
    }

    private synchronized Sheet all() {
        if (sheets.isEmpty()) {
            sheets.add(new Sheet(schema));
        }
        Sheet all = sheets.get(0);
        sheets.subList(1, sheets.size()).forEach(all::merge);
        sheets.subList(1, sheets.size()).clear();
        return all;
    }

    @Override
    public boolean reduces() {
        return true;
    }

    @Override
    public void write(Sections out) throws IOException {
        DataOutputStream to = new DataOutputStream(out);
        all().write(to);
        NoticeBytes.write(notices, to);
        ((Portable) source).writeAside(to);
    }

    @Override
    public synchronized void read(DataInput in) throws IOException {
        all().merge(in);
        Portable from = (Portable) source; // what somebody else has read can be told to others
        NoticeBytes.read(notices, from.ofCells(), in);
        from.readAside(in);
    }

    Survey finish() {
        Map<String, Long> bad = new HashMap<>();
        notices.list().stream()
                .filter(n -> n.kind() == Notices.Kind.BAD_AS_MISSING)
                .forEach(n -> bad.put(n.subject(), n.count()));
        Sheet all = all();
        return new Survey(all.rows(), all.finish(schema, bad), notices.warnings(), 0);
    }
}
