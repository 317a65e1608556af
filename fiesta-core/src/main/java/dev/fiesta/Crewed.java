package dev.fiesta;

import dev.fiesta.crew.Crew;
import dev.fiesta.engine.Engine;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Explained;
import dev.fiesta.source.Portable;
import dev.fiesta.source.Source;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Resources;
import dev.fiesta.stretch.Sharing;
import dev.fiesta.survey.Survey;
import dev.fiesta.survey.Surveyor;
import dev.fiesta.task.FieldsOnly;
import dev.fiesta.task.PlanText;
import dev.fiesta.task.Task;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * What an engine works with.
 *
 * @param crew reads large inputs together with it, or null
 * @param sources of inputs by name
 */
record Crewed(@Nullable Crew crew, Map<String, Source> sources, Notices notices, Resources resources) {
    /** With the crew of a Fiesta, unless that has functions of the program, which are nowhere but here. */
    static Crewed of(Fiesta fiesta, Map<String, Source> sources, Notices notices, Resources resources) {
        Crew crew = fiesta.functionsDefined().isEmpty() ? fiesta.crew() : null;
        return new Crewed(crew, sources, notices, resources);
    }

    /** In how many parts the crew reads an input; 0 where it is read here alone. */
    int parts(String input) {
        return crew == null ? 0 : Sharing.parts(crew, Objects.requireNonNull(sources.get(input)));
    }

    /** What working tables out would do. */
    Explained explain(List<TablePlan> tables) {
        return new Engine(sources, notices, resources).explain(tables, input -> parts(input) > 0);
    }

    /**
     * Works something out.
     *
     * @param tables what is worked out, as others may plan it
     */
    <T> T work(Supplier<PlanText> tables, Function<Engine, T> work) {
        if (crew == null) {
            return work.apply(new Engine(sources, notices, resources));
        }
        try (Crew.Work asked = crew.begin(Crew.Purpose.TABLES)) {
            return work.apply(
                    new Engine(sources, notices, resources, new Sharing(crew, asked, new Tasks(asked, tables))));
        }
    }

    /** Makes tasks of what is to be read; nothing is told, or placed for others, before the first of them. */
    private final class Tasks implements UnaryOperator<byte[]> {
        private final Crew.Work asked;
        private final Supplier<PlanText> tables;
        private byte @Nullable [] head;

        Tasks(Crew.Work asked, Supplier<PlanText> tables) {
            this.asked = asked;
            this.tables = tables;
        }

        @Override
        public synchronized byte[] apply(byte[] stretch) {
            byte[] known = head;
            if (known == null) {
                known = head();
                head = known;
            }
            return Task.of(known, stretch);
        }

        private byte[] head() {
            Map<String, Source> told = new LinkedHashMap<>();
            sources.forEach((name, source) -> told.put(
                    name,
                    parts(name) > 0 ? ((Portable) source).placed(asked::place) : new FieldsOnly(source.schema())));
            try {
                return Task.head(Fiesta.version(), tables.get(), told);
            } catch (IOException e) {
                throw new MachineException("The files of an input cannot be looked at", e);
            }
        }
    }

    /** A look at what stands in a source. */
    static Survey survey(Fiesta fiesta, Source source) {
        Surveyor.Tasks surveyed = (portable, work) -> {
            byte[] head = Task.survey(Fiesta.version(), portable.placed(work::place));
            return stretch -> Task.of(head, stretch);
        };
        return new Surveyor(fiesta.threads(), fiesta.crew(), surveyed).survey(source);
    }
}
