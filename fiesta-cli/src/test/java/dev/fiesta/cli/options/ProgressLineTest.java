package dev.fiesta.cli.options;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.progress.Progress;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;

/** What is told while a run goes on, at times that the test sets. */
class ProgressLineTest {
    private final StringWriter out = new StringWriter();
    private final AtomicLong clock = new AtomicLong(1000);
    private final ProgressLine line = new ProgressLine(new PrintWriter(out), 60, clock::get);

    private String told(long at, Progress progress) {
        out.getBuffer().setLength(0);
        clock.set(1000 + at);
        line.accept(progress);
        return out.toString();
    }

    @Test
    void shortRunsSayNothing() {
        assertThat(told(0, new Progress("reading sales", 0, 0))).isEmpty();
        assertThat(told(499, new Progress("reading sales", 10_000, 0.4))).isEmpty();
        line.end();
        assertThat(out.toString()).isEmpty();
    }

    @Test
    void longRunsTellWhereTheyStand() {
        told(0, new Progress("reading sales", 0, 0));
        assertThat(told(2000, new Progress("reading sales", 1_000_000, 0.25)))
                .isEqualTo("\r\033[Kreading sales  1,000,000 rows  500,000 a second  25%  6 s l");
        told(2100, new Progress("s", 0, 0));
        assertThat(told(3100, new Progress("s", 10_000, 0.005)))
                .isEqualTo("\r\033[Ks  10,000 rows  10,000 a second  0%");
        assertThat(told(4000, new Progress("weekly: sort", 5000, -1))).isEqualTo("\r\033[Kweekly: sort  5,000 rows");
        out.getBuffer().setLength(0);
        line.end();
        line.end();
        assertThat(out.toString()).isEqualTo("\r\033[K");
    }

    @Test
    void timeLeftIsToldInMinutesWhereItIsLong() {
        told(0, new Progress("r", 0, 0));
        assertThat(told(10_000, new Progress("r", 10, 0.05))).endsWith("1 a second  5%  3 min 10 s left");
        assertThat(told(11_000, new Progress("r", 11, 1))).endsWith("100%");
    }
}
