package dev.fiesta.task;

import dev.fiesta.compute.CalendarSettings;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Parser;
import dev.fiesta.plan.Parameters;
import dev.fiesta.plan.Planner;
import dev.fiesta.step.TablePlan;
import dev.fiesta.trace.Planned;
import dev.fiesta.trace.Question;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** The tables of a run as text, from which another process plans the same ones. */
public sealed interface PlanText {
    /** {@return the tables that are wanted} */
    List<TablePlan> plan(Map<String, TablePlan> inputs);

    void write(DataOutput out) throws IOException;

    static PlanText read(DataInput in) throws IOException {
        return switch (Form.values()[in.readByte()]) {
            case BRIEFS -> OfBriefs.read(in);
            case QUESTION -> OfQuestion.read(in);
            case CLAUSES -> OfClauses.read(in);
        };
    }

    /** Which of them stands there. */
    enum Form {
        BRIEFS,
        QUESTION,
        CLAUSES;

        private void write(DataOutput out) throws IOException {
            out.writeByte(ordinal());
        }
    }

    /**
     * Tables of briefs.
     *
     * @param texts the briefs, those used by others before them
     * @param parts the same tables with several values of parameters
     * @param wanted for each part, by its number, the names of tables
     */
    record OfBriefs(List<BriefText> texts, List<Part> parts, List<Wanted> wanted) implements PlanText {
        /** One set of values; {@code apart} tells its tables from others. */
        public record Part(String apart, Map<String, Parameters.Value> parameters) {}

        /** A table of a part. */
        public record Wanted(int part, String table) {}

        @Override
        public List<TablePlan> plan(Map<String, TablePlan> inputs) {
            List<Planned> planned = parts(inputs);
            return wanted.stream()
                    .map(w -> Objects.requireNonNull(planned.get(w.part).plans().get(w.table)))
                    .toList();
        }

        private List<Planned> parts(Map<String, TablePlan> inputs) {
            List<BriefTree> briefs = texts.stream().map(Parser::brief).toList();
            List<Planned> planned = new ArrayList<>();
            for (Part part : parts) {
                Parameters values = new Parameters(part.parameters);
                planned.add(new Planned(briefs, values, Planner.plan(briefs, values, inputs, part.apart)));
            }
            return planned;
        }

        @Override
        public void write(DataOutput out) throws IOException {
            Form.BRIEFS.write(out);
            Packing.list(out, texts, text -> {
                Packing.text(out, text.name());
                Packing.text(out, text.text());
            });
            Packing.list(out, parts, part -> {
                Packing.text(out, part.apart);
                PlanText.write(part.parameters, out);
            });
            Packing.list(out, wanted, one -> {
                out.writeInt(one.part);
                Packing.text(out, one.table);
            });
        }

        private static OfBriefs read(DataInput in) throws IOException {
            return new OfBriefs(
                    Packing.list(in, () -> new BriefText(Packing.text(in), Packing.text(in))),
                    Packing.list(in, () -> new Part(Packing.text(in), PlanText.parameters(in))),
                    Packing.list(in, () -> new Wanted(in.readInt(), Packing.text(in))));
        }
    }

    /**
     * Tables that answer a question about one of a brief.
     *
     * @param of the briefs, in one part
     */
    record OfQuestion(OfBriefs of, Question question) implements PlanText {
        @Override
        public List<TablePlan> plan(Map<String, TablePlan> inputs) {
            return question.plans(of.parts(inputs).get(0));
        }

        @Override
        public void write(DataOutput out) throws IOException {
            Form.QUESTION.write(out);
            of.write(out);
            QuestionBytes.write(question, out);
        }

        private static OfQuestion read(DataInput in) throws IOException {
            return new OfQuestion((OfBriefs) PlanText.read(in), QuestionBytes.read(in));
        }
    }

    /**
     * Clauses over a table and over others, as a program chains them; the last is wanted.
     *
     * @param links each over links before it
     * @param shown whether only what is shown of the last is wanted
     * @param looks if not -1, how many rows are wanted of the last as each of its clauses leaves it
     */
    record OfClauses(List<Link> links, boolean shown, int looks) implements PlanText {
        /**
         * An input, where there are no clauses, or clauses over a link.
         *
         * @param input its name, or nothing
         * @param from the number of the link below
         * @param others the links that the clauses name
         */
        public record Link(
                String input,
                int from,
                String clauses,
                Map<String, Parameters.Value> parameters,
                Map<String, Integer> others) {}

        @Override
        public List<TablePlan> plan(Map<String, TablePlan> inputs) {
            List<TablePlan> planned = new ArrayList<>();
            for (Link link : links) {
                planned.add(
                        link.input.isEmpty()
                                ? extended(link, Integer.MAX_VALUE, planned)
                                : Objects.requireNonNull(inputs.get(link.input)));
            }
            TablePlan last = planned.get(planned.size() - 1);
            if (looks >= 0) {
                Link link = links.get(links.size() - 1);
                return Question.Steps.upTo(last, 0, looks, count -> extended(link, count, planned));
            }
            return List.of(shown ? last.shownOnly() : last);
        }

        /** @param most of its clauses */
        private static TablePlan extended(Link link, int most, List<TablePlan> planned) {
            BriefText text = new BriefText("clauses", link.clauses);
            List<Clause> clauses = Parser.clauses(text);
            Map<String, TablePlan> named = new LinkedHashMap<>();
            link.others.forEach((name, number) -> named.put(name, planned.get(number)));
            return Planner.extend(
                    planned.get(link.from),
                    text,
                    clauses.subList(0, Math.min(most, clauses.size())),
                    new Parameters(link.parameters),
                    CalendarSettings.NORMAL,
                    named);
        }

        @Override
        public void write(DataOutput out) throws IOException {
            Form.CLAUSES.write(out);
            Packing.list(out, links, link -> {
                Packing.text(out, link.input);
                out.writeInt(link.from);
                Packing.text(out, link.clauses);
                PlanText.write(link.parameters, out);
                Packing.list(out, List.copyOf(link.others.entrySet()), other -> {
                    Packing.text(out, other.getKey());
                    out.writeInt(other.getValue());
                });
            });
            out.writeBoolean(shown);
            out.writeInt(looks);
        }

        private static OfClauses read(DataInput in) throws IOException {
            return new OfClauses(
                    Packing.list(
                            in,
                            () -> new Link(
                                    Packing.text(in),
                                    in.readInt(),
                                    Packing.text(in),
                                    PlanText.parameters(in),
                                    others(in))),
                    in.readBoolean(),
                    in.readInt());
        }

        private static Map<String, Integer> others(DataInput in) throws IOException {
            Map<String, Integer> others = new LinkedHashMap<>();
            for (int left = in.readInt(); left > 0; left--) {
                others.put(Packing.text(in), in.readInt());
            }
            return others;
        }
    }

    private static void write(Map<String, Parameters.Value> parameters, DataOutput out) throws IOException {
        Packing.list(out, List.copyOf(parameters.entrySet()), parameter -> {
            Packing.text(out, parameter.getKey());
            Parameters.Value value = parameter.getValue();
            Packing.type(out, value.type());
            out.writeBoolean(value.list());
            out.writeBoolean(value.items() != null);
            if (value.items() != null) {
                Packing.list(out, value.items(), item -> Packing.value(out, item));
            }
        });
    }

    private static Map<String, Parameters.Value> parameters(DataInput in) throws IOException {
        Map<String, Parameters.Value> parameters = new LinkedHashMap<>();
        for (int left = in.readInt(); left > 0; left--) {
            String name = Packing.text(in);
            parameters.put(
                    name,
                    new Parameters.Value(
                            Packing.type(in),
                            in.readBoolean(),
                            in.readBoolean()
                                    ? Packing.list(in, () -> Objects.requireNonNull(Packing.value(in)))
                                    : null));
        }
        return parameters;
    }
}
