package dev.fiesta.survey;

import dev.fiesta.survey.FieldSurvey.Frequent;
import dev.fiesta.survey.FieldSurvey.Oddity;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.Packing;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Type;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Texts: counted by their codes, brought together when a dictionary ends. */
final class TextTally implements Tally {
    private static final int MOST = 1 << 16;

    private @Nullable Dictionary counting;
    private long[] codeTimes = new long[16];
    private Dictionary known = new Dictionary();
    private long[] times = new long[16];
    private int level;
    private long present;
    private @Nullable String least;
    private @Nullable String greatest;
    private Dictionary sampleTexts = new Dictionary();
    private int[] sample = new int[16];
    private int drawn;

    @Override
    public void add(Column column, int[] picked, int count) {
        TextColumn texts = (TextColumn) column.flat();
        Dictionary dictionary = texts.dictionary();
        if (dictionary != counting) {
            fold();
            counting = dictionary;
        }
        if (codeTimes.length < dictionary.size()) {
            codeTimes = Arrays.copyOf(codeTimes, Math.max(dictionary.size(), codeTimes.length * 2));
        }
        int[] codes = texts.codes();
        long[] counts = codeTimes;
        for (int i = 0; i < texts.size(); i++) {
            if (codes[i] >= 0) {
                counts[codes[i]]++;
            }
        }
        present += texts.present();
        for (int i = 0; i < count; i++) {
            int code = codes[picked[i]];
            draw(code < 0 ? -1 : sampleTexts.intern(dictionary, code));
        }
    }

    private void draw(int code) {
        if (drawn == sample.length) {
            sample = Arrays.copyOf(sample, drawn * 2);
        }
        sample[drawn++] = code;
    }

    /** Brings what was counted by code together with what is known by text. */
    private void fold() {
        Dictionary from = counting;
        if (from == null) {
            return;
        }
        int lowest = -1;
        int highest = -1;
        for (int code = 0; code < from.size(); code++) {
            long count = code < codeTimes.length ? codeTimes[code] : 0;
            if (count > 0) {
                add(from, code, count);
                lowest = lowest < 0 || from.compare(code, lowest) < 0 ? code : lowest;
                highest = highest < 0 || from.compare(code, highest) > 0 ? code : highest;
            }
        }
        if (lowest >= 0) {
            bounds(from.text(lowest), from.text(highest));
        }
        Arrays.fill(codeTimes, 0);
        counting = null;
    }

    private void bounds(@Nullable String low, @Nullable String high) {
        if (low != null && high != null) {
            least = least == null || compare(low, least) < 0 ? low : least;
            greatest = greatest == null || compare(high, greatest) > 0 ? high : greatest;
        }
    }

    private static int compare(String a, String b) {
        return Arrays.compare(a.codePoints().toArray(), b.codePoints().toArray());
    }

    private void add(Dictionary from, int code, long count) {
        if (isLeftOut(from.hash(code))) {
            return;
        }
        int here = known.intern(from, code);
        if (here >= times.length) {
            times = Arrays.copyOf(times, times.length * 2);
        }
        times[here] += count;
        if (known.size() > MOST) {
            level++;
            rebuild();
        }
    }

    private boolean isLeftOut(int hash) {
        return level > 0 && hash >>> (32 - level) != 0;
    }

    private void rebuild() {
        Dictionary before = known;
        long[] counts = times;
        known = new Dictionary();
        times = new long[256];
        for (int code = 0; code < before.size(); code++) {
            add(before, code, counts[code]);
        }
    }

    @Override
    public void thin(int[] stay) {
        Dictionary before = sampleTexts;
        sampleTexts = new Dictionary();
        for (int i = 0; i < stay.length; i++) {
            int code = sample[stay[i]];
            sample[i] = code < 0 ? -1 : sampleTexts.intern(before, code);
        }
        drawn = stay.length;
    }

    @Override
    public void merge(Tally from) {
        TextTally other = (TextTally) from;
        fold();
        other.fold();
        if (level < other.level) {
            level = other.level;
            rebuild();
        }
        for (int code = 0; code < other.known.size(); code++) {
            add(other.known, code, other.times[code]);
        }
        present += other.present;
        bounds(other.least, other.greatest);
        for (int i = 0; i < other.drawn; i++) {
            int code = other.sample[i];
            draw(code < 0 ? -1 : sampleTexts.intern(other.sampleTexts, code));
        }
    }

    @Override
    public Tally empty() {
        return new TextTally();
    }

    @Override
    public void write(DataOutput out) throws IOException {
        fold();
        out.writeInt(level);
        write(known, out);
        for (int code = 0; code < known.size(); code++) {
            out.writeLong(times[code]);
        }
        out.writeLong(present);
        Packing.perhaps(out, least);
        Packing.perhaps(out, greatest);
        write(sampleTexts, out);
        out.writeInt(drawn);
        for (int i = 0; i < drawn; i++) {
            out.writeInt(sample[i]);
        }
    }

    private static void write(Dictionary texts, DataOutput out) throws IOException {
        out.writeInt(texts.size());
        for (int code = 0; code < texts.size(); code++) {
            Packing.text(out, texts.text(code));
        }
    }

    @Override
    public void read(DataInput in) throws IOException {
        level = in.readInt();
        known = texts(in);
        times = new long[Math.max(16, known.size())];
        for (int code = 0; code < known.size(); code++) {
            times[code] = in.readLong();
        }
        present = in.readLong();
        least = Packing.perhaps(in);
        greatest = Packing.perhaps(in);
        sampleTexts = texts(in);
        for (int left = in.readInt(); left > 0; left--) {
            draw(in.readInt());
        }
    }

    private static Dictionary texts(DataInput in) throws IOException {
        Dictionary texts = new Dictionary();
        for (int left = in.readInt(); left > 0; left--) {
            texts.intern(Packing.text(in));
        }
        return texts;
    }

    @Override
    public FieldSurvey finish(String name, long records, long bad) {
        fold();
        boolean exact = level == 0;
        long different = Math.min((long) known.size() << level, present);
        long[] counted = Arrays.copyOf(times, known.size());
        List<Oddity> oddities =
                new ArrayList<>(Oddities.of(name, Type.TEXT, records, present, different, exact, counted, bad));
        oddities.addAll(TextSigns.of(name, known, counted, exact));
        return new FieldSurvey(
                name,
                Type.TEXT,
                records - present,
                different,
                exact,
                least,
                greatest,
                null,
                List.of(),
                frequent(exact),
                null,
                oddities);
    }

    private List<Frequent> frequent(boolean exact) {
        Dictionary texts = exact ? known : sampleTexts;
        long[] found = exact ? Arrays.copyOf(times, known.size()) : new long[sampleTexts.size()];
        for (int i = 0; !exact && i < drawn; i++) {
            if (sample[i] >= 0) {
                found[sample[i]]++;
            }
        }
        long total = Arrays.stream(found).sum();
        List<Frequent> frequent = new ArrayList<>();
        // Codes follow the order in which workers met the texts; equal counts stand by text.
        int[] byText = new int[found.length];
        int[] ranks = texts.ranks();
        for (int code = 0; code < byText.length; code++) {
            byText[ranks[code]] = code;
        }
        long[] ordered = Arrays.stream(byText).mapToLong(code -> found[code]).toArray();
        for (int place : Oddities.mostFrequent(ordered, total, exact)) {
            long count = exact ? ordered[place] : Math.round((double) ordered[place] / total * present);
            frequent.add(new Frequent(texts.text(byText[place]), count));
        }
        return frequent;
    }
}
