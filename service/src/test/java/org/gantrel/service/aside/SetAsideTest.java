package org.gantrel.service.aside;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;

import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.atomic.AtomicLong;
import org.gantrel.service.MovableClock;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.time.Stopwatch;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.springframework.beans.BeanUtils;

@DisplayName("What cannot be dealt with")
class SetAsideTest {

    private static final Thing RUN = new Thing(Kind.WAITING_RUN, 1001, "run 1001 of sells", "revenue");
    private static final Thing MAIL = new Thing(Kind.DELIVERY, 7, "the mail to night@example.org", "revenue");

    private final MovableClock clock = new MovableClock(Instant.parse("2026-11-30T02:00:00Z"));
    private final AtomicLong nanos = new AtomicLong(Long.MAX_VALUE - 1_000);
    private final Journal journal = mock(Journal.class);
    private final SetAside aside =
            new SetAside(journal, BeanUtils.instantiateClass(Waker.class), clock, new Stopwatch() {
                @Override
                public long nanos() {
                    return nanos.get();
                }
            });

    private void passes(Duration time) {
        nanos.addAndGet(time.toNanos());
    }

    private boolean fails(Thing thing) {
        return aside.attempt(thing, () -> {
            throw new IllegalStateException("the books are shut");
        });
    }

    @Test
    @DisplayName("is tried again after a pause, however the clock is set meanwhile, and set aside at the third time")
    void isTriedAgain() {
        assertThat(fails(RUN)).isFalse();
        clock.moveBy(Duration.ofHours(-1));
        assertThat(aside.attempt(RUN, () -> {})).as("a moment later").isFalse();
        assertThat(aside.next()).contains(Duration.ofSeconds(1));
        passes(Duration.ofSeconds(1));
        assertThat(fails(RUN)).isFalse();
        passes(Duration.ofSeconds(5));
        clock.moveBy(Duration.ofHours(-1));
        assertThat(aside.held(Kind.WAITING_RUN)).isEmpty();
        assertThat(aside.all()).isEmpty();
        fails(RUN);
        assertThat(aside.held(Kind.WAITING_RUN)).containsExactly(1001L);
        assertThat(aside.all()).singleElement().satisfies(entry -> {
            assertThat(entry.since()).isEqualTo("2026-11-30T02:00:00Z");
            assertThat(entry.nextTry()).isEqualTo("2026-11-30T00:05:00Z");
            assertThat(entry.reason()).isEqualTo("the books are shut");
        });
        passes(Duration.ofMinutes(5));
        fails(RUN);
        verify(journal, times(1)).write(eq("gantrel.engine.set-aside"), eq("revenue"), any());
        assertThat(aside.tryAgain(Kind.WAITING_RUN, 1001)).isTrue();
        assertThat(aside.attempt(RUN, () -> {})).isTrue();
        assertThat(aside.all()).isEmpty();
        assertThat(aside.next()).isEmpty();
    }

    @Test
    @DisplayName("has nobody go round and round when it is overdue, and is forgotten when nobody comes back for it")
    void isForgotten() {
        fails(MAIL);
        passes(Duration.ofSeconds(30));
        assertThat(aside.next()).contains(Duration.ofSeconds(1));
        assertThat(aside.hasFailed(Kind.DELIVERY, 7)).isTrue();
        passes(Duration.ofMinutes(10));
        assertThat(aside.next()).isEmpty();
        assertThat(aside.hasFailed(Kind.DELIVERY, 7)).isFalse();
    }

    @Test
    @DisplayName("is forgotten when its run has ended, and nothing else with it")
    void endsWithItsRun() {
        fails(RUN);
        fails(MAIL);
        aside.ended(7);
        aside.ended(1001);
        assertThat(aside.hasFailed(Kind.WAITING_RUN, 1001)).isFalse();
        assertThat(aside.hasFailed(Kind.DELIVERY, 7)).isTrue();
    }
}
