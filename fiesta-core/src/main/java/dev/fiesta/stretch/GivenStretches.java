package dev.fiesta.stretch;

import dev.fiesta.crew.Crew;
import dev.fiesta.crew.GivenTask;
import java.util.ArrayList;
import java.util.List;

/**
 * Stretches of an input that a crew works on, in their order. Where answers come faster than they are taken in, and become less by
 * it, members merge those that wait, and merge what has been merged again: how many there were matters less and less.
 */
final class GivenStretches implements AutoCloseable {
    /** Answers are merged as long as that leaves at most this part of their bytes. */
    private static final double LEFT = 0.5;

    private final Crew crew;
    private final Ask ask;
    private final int step;
    private final int pieces;
    private final Runnable news;
    private final List<Given> open = new ArrayList<>();
    private int next;
    private boolean merges;
    private boolean pays;

    /** Asks for a stretch. */
    @FunctionalInterface
    interface Ask {
        /** @param answers the names of those that are to be merged; none to read the pieces */
        GivenTask of(int from, int to, List<String> answers);
    }

    /**
     * A stretch that somebody reads, or whose parts somebody merges.
     *
     * @param alone whether it is not to be merged
     */
    record Given(int from, int to, GivenTask asked, List<Given> of, boolean alone) implements AutoCloseable {
        private boolean isMergedWith(Given next) {
            return isToMerge() && next.isToMerge() && depth() == next.depth();
        }

        private boolean isToMerge() {
            return !alone && asked.found().isPresent();
        }

        private int depth() {
            return of.isEmpty() ? 0 : 1 + of.get(0).depth();
        }

        private long bytes() {
            return asked.found().map(Crew.Answer::bytes).orElse(0L);
        }

        /** Whether it has been merged, and that was in vain. */
        private boolean isInVain() {
            return !of.isEmpty()
                    && bytes() > LEFT * of.stream().mapToLong(Given::bytes).sum();
        }

        /** Nobody needs it any more, nor its parts. */
        @Override
        public void close() {
            asked.close();
            of.forEach(Given::close);
        }
    }

    /**
     * @param step how many pieces make a stretch
     * @param from the first piece, {@code pieces} the first behind them
     * @param merges whether answers may become less by being merged
     * @param news is run whenever one is answered
     */
    GivenStretches(Crew crew, Ask ask, int step, int from, int pieces, boolean merges, Runnable news) {
        this.crew = crew;
        this.ask = ask;
        this.step = step;
        this.next = from;
        this.pieces = pieces;
        this.merges = merges;
        this.news = news;
    }

    /** Gives as many as are worked on, and has those merged that wait. */
    void go() {
        int most = 2 * crew.members();
        for (long waited = waitedFor(); next < pieces && waited < most; ) {
            int to = Math.min(next + step, pieces);
            Given given = given(next, to, List.of(), false);
            open.add(given);
            next = to;
            waited += merges && given.asked.isDone() ? 0 : 1; // a run that goes on finds what was found before
        }
        List<Given> merged = open.stream().filter(g -> !g.of.isEmpty()).toList();
        merges = merges && merged.stream().noneMatch(Given::isInVain);
        pays = pays || merged.stream().anyMatch(Given::isToMerge);
        if (merges && (pays || merged.isEmpty())) {
            merge();
        }
    }

    private long waitedFor() {
        return merges ? open.stream().filter(g -> !g.asked.isDone()).count() : open.size();
    }

    /** Once it is known to pay, all that wait; else some, to try. The first one is left to who takes them in. */
    private void merge() {
        int most = crew.mergedAtOnce();
        for (int i = 1, begin = 1; i < open.size(); i++) {
            begin = i > begin && open.get(i - 1).isMergedWith(open.get(i)) ? begin : i;
            if (i - begin + 1 == most) {
                List<Given> some = open.subList(begin, i + 1);
                Given merged = given(open.get(begin).from, open.get(i).to, List.copyOf(some), false);
                some.clear();
                open.add(begin, merged);
                i = begin;
                if (!pays) {
                    return;
                }
            }
        }
    }

    private Given given(int from, int to, List<Given> of, boolean alone) {
        List<String> answers =
                of.stream().map(g -> g.asked.found().orElseThrow().name()).toList();
        Given given = new Given(from, to, ask.of(from, to, answers), of, alone);
        given.asked.onceDone(news);
        return given;
    }

    /** Whether the first one is answered, or nobody could do it. */
    boolean firstIsDone() {
        return !open.isEmpty() && open.get(0).asked.isDone();
    }

    /** The first one, which is left to who asks. */
    Given takeFirst() {
        return open.remove(0);
    }

    /** Takes one apart that was merged and cannot be used; one that was read is read again. */
    void again(Given first) {
        List<Given> instead = first.of.stream()
                .map(g -> new Given(g.from, g.to, g.asked, g.of, true))
                .toList();
        first.asked.close();
        open.addAll(0, instead.isEmpty() ? List.of(given(first.from, first.to, List.of(), true)) : instead);
    }

    /** Nobody needs those any more that are left. */
    @Override
    public void close() {
        open.forEach(Given::close);
    }
}
