package dev.fiesta.brief;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.plan.Parameters;
import dev.fiesta.plan.Planner;
import dev.fiesta.plan.RowOrder;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Aside;
import dev.fiesta.source.Asked;
import dev.fiesta.source.Source;
import dev.fiesta.source.files.FilesSeen;
import dev.fiesta.source.files.Paths;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Schema;
import java.util.BitSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/** The opened inputs of briefs; tables with other values for parameters may share them, so that they are read once. */
public final class Inputs {
    /** Records of a program in the stead of an input's. */
    public interface Handed {
        Source source();

        FilesSeen seen();

        /** Whether they are to be asked for again by every run. */
        boolean isAskedAgain();
    }

    /** How an input is opened, and its files as they were then. */
    private record Origin(
            InputOpener opener,
            BriefTree.Input input,
            UnaryOperator<String> fill,
            @Nullable Handed rows,
            FilesSeen seen) {
        static Origin of(InputOpener opener, BriefTree.Input input, UnaryOperator<String> fill, @Nullable Handed rows) {
            return new Origin(opener, input, fill, rows, seen(opener, input, fill, rows));
        }

        private static FilesSeen seen(
                InputOpener opener, BriefTree.Input input, UnaryOperator<String> fill, @Nullable Handed rows) {
            return rows == null ? opener.seen(input, fill) : rows.seen();
        }

        boolean isAskedAgain() {
            return rows == null ? input.query() != null : rows.isAskedAgain();
        }

        InputOpener.Opened open(boolean ask) {
            return rows == null
                    ? opener.open(input, fill, ask)
                    : new InputOpener.Opened(rows.source(), List.of(), null, true);
        }

        FilesSeen now() {
            return seen(opener, input, fill, rows);
        }

        Origin again() {
            return of(opener, input, fill, rows);
        }
    }

    private final Map<String, Origin> origins = new LinkedHashMap<>();
    private final Map<String, List<Paths.Named>> files = new LinkedHashMap<>();
    private final Map<String, Asked> asked = new LinkedHashMap<>();
    /** Inputs whose records come in any order. */
    private final Set<String> unordered = new HashSet<>();
    /** The queries that were asked, and rows of a program that were taken, since the last run. */
    private final Set<String> fresh = new HashSet<>();

    private Map<String, Source> sources = new LinkedHashMap<>();
    private final Map<String, Aside> asides = new LinkedHashMap<>();
    private Map<String, TablePlan> plans = Map.of();
    private int version;

    /**
     * @param fill fills parameters into paths
     * @param parameters what queries may ask by
     * @param rows inputs that do not come from what the briefs say, by name
     */
    public static Inputs open(
            Access access,
            List<Placed> briefs,
            UnaryOperator<String> fill,
            Parameters parameters,
            Map<String, Handed> rows) {
        Inputs inputs = new Inputs();
        refuseUnknown(briefs, rows);
        for (Placed part : briefs) {
            BriefText text = part.brief().source();
            InputOpener opener = new InputOpener(
                    text,
                    part.folder(),
                    access,
                    Planner.calendar(part.brief().settings()).language(),
                    parameters);
            for (BriefTree.Input input : part.brief().inputs()) {
                inputs.open(input, text, opener, fill, rows.get(input.name().name()));
            }
        }
        inputs.plan();
        return inputs;
    }

    private static void refuseUnknown(List<Placed> briefs, Map<String, Handed> rows) {
        List<String> names = briefs.stream()
                .flatMap(b -> b.brief().inputs().stream())
                .map(i -> i.name().name())
                .toList();
        for (String name : rows.keySet()) {
            if (!names.contains(name)) {
                throw new RequestException(
                        "The brief has no input '" + name + "'. " + Names.didYouMean(name, names, "It has"));
            }
        }
    }

    private void open(
            BriefTree.Input input,
            BriefText text,
            InputOpener opener,
            UnaryOperator<String> fill,
            @Nullable Handed rows) {
        String name = input.name().name();
        if (sources.containsKey(name)) {
            throw new BriefException(List.of(text.problem(
                    input.name().at(), "There is an input '" + name + "' already.", "Give this one another name.")));
        }
        open(Origin.of(opener, input, fill, rows), false);
    }

    /** @param ask whether a query is asked for its rows */
    private void open(Origin origin, boolean ask) {
        String name = origin.input.name().name();
        try {
            InputOpener.Opened opened = origin.open(ask);
            origins.put(name, origin);
            sources.put(name, opened.source());
            if (!opened.ordered()) {
                unordered.add(name);
            }
            if (origin.rows != null) {
                fresh.add(name);
            } else if (origin.input.query() == null) {
                files.put(name, opened.files());
            } else if (opened.asked() != null) {
                asked.put(name, opened.asked());
                fresh.add(name);
            }
        } catch (RuntimeException e) {
            throw Interrupted.orItself(e);
        }
    }

    /** Opens inputs anew whose files have changed since, and asks queries again that a run has used: none uses what was known before. */
    public void refresh() {
        boolean changed = false;
        for (Origin origin : List.copyOf(origins.values())) {
            Origin now = origin.again();
            boolean old =
                    origin.isAskedAgain() && !fresh.remove(origin.input.name().name());
            if (old || !now.seen.isSame(origin.seen)) {
                open(now, true);
                fresh.remove(origin.input.name().name());
                changed = true;
            }
        }
        if (changed) {
            plan();
        }
    }

    /**
     * From now on inputs whose brief says so set records aside that cannot be read; what was set aside before is forgotten.
     *
     * @param uses the fields that the brief uses, by input
     * @throws BriefException when one of them is no text and has no type told, so that nobody could say what is bad
     */
    public void judge(Map<TablePlan, BitSet> uses) {
        origins.forEach((name, origin) -> {
            BriefTree.Aside limit =
                    origin.rows != null ? null : origin.input.options().aside();
            BitSet used = uses.get(plans.get(name));
            if (limit != null && used != null) {
                Source source = Objects.requireNonNull(sources.get(name));
                BitSet fields = (BitSet) used.clone();
                fields.clear(source.schema().size(), fields.size());
                Aside aside = new Aside(name, limit.most(), limit.percent());
                Source setting = origin.opener.settingAside(origin.input, source, fields, aside);
                fields.stream().forEach(f -> origin.opener.refuseUndeclared(origin.input, source, f));
                asides.put(name, aside);
                sources.put(name, setting);
            }
        });
    }

    /** Tells where the order decides in which a server happened to give the rows of a query. */
    public void tellOrder(List<TablePlan> tables, Notices notices) {
        Set<TablePlan> loose = new HashSet<>();
        unordered.forEach(name -> loose.add(Objects.requireNonNull(plans.get(name))));
        if (!loose.isEmpty()) {
            RowOrder order = new RowOrder(loose);
            tables.forEach(order::look);
            order.sentences().forEach(notices::warn);
        }
    }

    /** What was set aside, by input. */
    public Map<String, Aside> asides() {
        return asides;
    }

    /**
     * Tells what was set aside.
     *
     * @throws dev.fiesta.problem.DataException when it is more than may be
     */
    public void tellAsides(Notices notices) {
        for (Aside aside : asides.values()) {
            aside.refuse();
            if (aside.count() > 0) {
                notices.count(Notices.Kind.SET_ASIDE, aside.input(), aside.count(), aside.records());
                String first = aside.first().get(0).text();
                notices.example(Notices.Kind.SET_ASIDE, aside.input(), 0, 0, () -> first);
            }
        }
    }

    /** @throws dev.fiesta.problem.DataException when files were changed while they were read */
    public void refuseChange() {
        origins.values().forEach(o -> o.seen.refuseChange(o.now()));
    }

    private void plan() {
        Map<String, TablePlan> inputs = new LinkedHashMap<>();
        sources.forEach(
                (name, source) -> inputs.put(name, TablePlan.input(name, source.schema(), new FirstTexts(source))));
        plans = inputs;
        version++;
    }

    public Map<String, Source> sources() {
        return sources;
    }

    public Map<String, List<Paths.Named>> files() {
        return files;
    }

    /** The queries that inputs were read by. */
    public Map<String, Asked> asked() {
        return asked;
    }

    /** Their plans; one object for each input, whoever asks. */
    public Map<String, TablePlan> plans() {
        return plans;
    }

    /** Changes whenever types were widened. */
    public int version() {
        return version;
    }

    public Map<String, Schema> schemas() {
        Map<String, Schema> schemas = new LinkedHashMap<>();
        sources.forEach((name, source) -> schemas.put(name, source.schema()));
        return schemas;
    }

    public void widen(Source.Widened widened) {
        Map<String, Source> all = new LinkedHashMap<>(sources);
        sources.forEach((name, source) -> {
            if (source == widened.from()) {
                all.put(name, widened.source());
            }
        });
        sources = all;
        plan();
    }
}
