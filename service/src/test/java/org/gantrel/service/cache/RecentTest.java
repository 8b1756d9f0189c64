package org.gantrel.service.cache;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import org.gantrel.service.Await;
import org.gantrel.service.MovableClock;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("What was worked out last")
class RecentTest {

    private final MovableClock clock = new MovableClock(Instant.parse("2026-11-28T12:00:00Z"));
    private final AtomicLong state = new AtomicLong();
    private final AtomicInteger worked = new AtomicInteger();
    private final Recent<String, Integer> recent = new Recent<>(state::get, clock, 2);

    private int ask() {
        return recent.of("same", worked::incrementAndGet);
    }

    @Test
    @DisplayName("holds for a moment, for as long as it took, and until something happens")
    void holds() {
        assertThat(ask()).isEqualTo(1);
        assertThat(ask()).isEqualTo(1);
        state.incrementAndGet();
        assertThat(ask()).isEqualTo(2);
        clock.moveBy(Duration.ofMillis(1_999));
        assertThat(ask()).isEqualTo(2);
        clock.moveBy(Duration.ofMillis(1));
        assertThat(ask()).isEqualTo(3);
        clock.moveBy(Duration.ofHours(-1));
        assertThat(ask()).as("after the clock was set back").isEqualTo(4);
        state.incrementAndGet();
        assertThat(recent.of("same", () -> {
                    clock.moveBy(Duration.ofSeconds(9));
                    return worked.incrementAndGet();
                }))
                .isEqualTo(5);
        clock.moveBy(Duration.ofMillis(8_999));
        assertThat(ask()).isEqualTo(5);
        clock.moveBy(Duration.ofMillis(1));
        assertThat(ask()).isEqualTo(6);
        assertThatThrownBy(() -> recent.of("other", () -> {
                    throw new IllegalStateException("no");
                }))
                .hasMessage("no");
        assertThat(recent.of("other", () -> 77)).isEqualTo(77);
        for (int i = 0; i < 100; i++) {
            int mine = i;
            recent.of("question " + i, () -> mine);
        }
        assertThat(ask()).as("only the last questions are kept").isEqualTo(7);
    }

    @Test
    @DisplayName("what happens while it is worked out makes it old")
    void isOld() {
        recent.of("same", () -> {
            state.incrementAndGet();
            return worked.incrementAndGet();
        });
        assertThat(ask()).isEqualTo(2);
    }

    @Test
    @DisplayName(
            "is worked out twice for any number of people who come meanwhile, though something happens all the time")
    void isSharedByMany() throws Exception {
        var running = new AtomicInteger();
        var most = new AtomicInteger();
        var begun = new CountDownLatch(1);
        var goOn = new CountDownLatch(1);
        Callable<Integer> question = () -> recent.of("same", () -> {
            most.accumulateAndGet(running.incrementAndGet(), Math::max);
            begun.countDown();
            try {
                goOn.await();
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
            state.incrementAndGet();
            running.decrementAndGet();
            return worked.incrementAndGet();
        });
        ExecutorService people = Executors.newCachedThreadPool();
        try {
            Future<Integer> first = people.submit(question);
            begun.await();
            List<Future<Integer>> others = new ArrayList<>();
            List<Thread> threads = new ArrayList<>();
            for (int i = 0; i < 20; i++) {
                others.add(people.submit(() -> {
                    synchronized (threads) {
                        threads.add(Thread.currentThread());
                    }
                    return question.call();
                }));
            }
            Await.until("all wait", () -> {
                synchronized (threads) {
                    return threads.size() == 20
                            && threads.stream().allMatch(each -> each.getState() == Thread.State.BLOCKED);
                }
            });
            goOn.countDown();
            assertThat(first.get()).isEqualTo(1);
            for (Future<Integer> other : others) {
                // what was begun before they came, and what has happened since, is not what they asked for
                assertThat(other.get()).isEqualTo(2);
            }
            assertThat(most.get()).isEqualTo(1);
        } finally {
            people.shutdownNow();
        }
    }
}
