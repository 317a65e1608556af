package dev.fiesta.engine;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.InputTexts.Compared;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.Packing;
import dev.fiesta.value.TextColumn;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** The texts met in fields of an input that a brief compares with texts, so that those which no record has can be told. */
final class TextsMet {
    /** A field with more texts is one of names or notes: what there is instead would help nobody. */
    private static final int MOST = 10_000;

    private static final int SHOWN = 5;

    /** Looks at nothing. */
    static final TextsMet NONE = new TextsMet();

    private final List<Compared> compared = new ArrayList<>();
    private final Map<Integer, Texts> met = new TreeMap<>();

    private TextsMet() {}

    /**
     * @param tables all that a run works out
     * @param live the slots of the input that are read
     */
    TextsMet(TablePlan input, Collection<TablePlan> tables, BitSet live) {
        for (TablePlan table : tables) {
            for (Compared text : table.texts().compared()) {
                int place = text.field().place();
                if (text.field().input() == input && live.get(place)) {
                    compared.add(text);
                    met.computeIfAbsent(place, p -> new Texts()).asked.add(text.text());
                }
            }
        }
    }

    /** What looks at the batches of one worker. */
    Consumer<Batch> worker() {
        List<Looker> lookers = new ArrayList<>();
        met.forEach((place, texts) -> lookers.add(new Looker(place, texts)));
        return batch -> lookers.forEach(looker -> looker.look(batch));
    }

    /** Writes what was met. */
    void write(DataOutput out) throws IOException {
        for (Texts texts : met.values()) {
            out.writeBoolean(texts.unread);
            Packing.texts(out, List.copyOf(texts.askedAndMet));
            Packing.texts(out, List.copyOf(texts.all));
        }
    }

    /** Adds what was met elsewhere. */
    void read(DataInput in) throws IOException {
        for (Texts texts : met.values()) {
            texts.unread |= in.readBoolean();
            texts.askedAndMet.addAll(Packing.texts(in));
            texts.all.addAll(Packing.texts(in));
        }
    }

    /** Tells the texts that were not met; to be asked only when all records have been read. */
    void tell(Notices notices) {
        for (Compared text : compared) {
            Texts texts = Objects.requireNonNull(met.get(text.field().place()));
            if (texts.isSilentAbout(text.text())) {
                notices.warn(text.at() + ": No record has " + text.name() + " '" + text.text() + "'" + text.so() + "."
                        + texts.instead(text.text()));
            }
        }
    }

    /** What was met in a field: all texts while they are few, and those asked for. */
    private static final class Texts {
        private final Set<String> asked = new HashSet<>();
        private final Set<String> askedAndMet = ConcurrentHashMap.newKeySet();
        private final Set<String> all = ConcurrentHashMap.newKeySet();
        /** Some value cannot be read: that is told where a clause reads it, and nothing is told of the field here. */
        private volatile boolean unread;

        boolean areFew() {
            return all.size() <= MOST;
        }

        void met(String text) {
            if (asked.contains(text)) {
                askedAndMet.add(text);
            }
            all.add(text);
        }

        /** Of many texts only those asked for are looked up. */
        void askedIn(Dictionary dictionary) {
            for (String text : asked) {
                if (!askedAndMet.contains(text) && dictionary.find(text) >= 0) {
                    askedAndMet.add(text);
                }
            }
        }

        /** Whether nothing is left to be found out: all that is asked for was met, or not all can be read. */
        boolean isSettled() {
            return unread || askedAndMet.size() == asked.size();
        }

        /** Where no record has any text, nobody has mistyped one. */
        boolean isSilentAbout(String text) {
            return !unread && !all.isEmpty() && !askedAndMet.contains(text);
        }

        String instead(String text) {
            if (!areFew()) {
                return "";
            }
            String near = String.join(", ", Names.byLikeness(text, all, SHOWN));
            return " It has: " + near + (all.size() > SHOWN ? ", …" : ".");
        }
    }

    /** Looks at one field; a dictionary grows from batch to batch, and only what is new in it is looked at. */
    private static final class Looker {
        private final int place;
        private final Texts texts;
        private @Nullable Dictionary known;
        private int looked;

        Looker(int place, Texts texts) {
            this.place = place;
            this.texts = texts;
        }

        /** Most texts are met in the first records, and then no value is read that no clause asks for. */
        void look(Batch batch) {
            if (texts.isSettled()) {
                return;
            }
            try {
                look(batch.column(place));
            } catch (DataException e) {
                texts.unread = true;
            }
        }

        private void look(Column column) {
            if (!(column instanceof TextColumn text)) {
                return;
            }
            if (text.dictionary() != known) {
                known = text.dictionary();
                looked = 0;
            }
            for (; looked < known.size() && texts.areFew(); looked++) {
                texts.met(known.text(looked));
            }
            if (!texts.areFew()) {
                texts.askedIn(known);
            }
        }
    }
}
