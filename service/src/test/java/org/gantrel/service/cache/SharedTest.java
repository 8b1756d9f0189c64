package org.gantrel.service.cache;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import org.gantrel.service.Await;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("What is worked out for all who ask")
class SharedTest {

    private static final int MANY = 12;

    private final ExecutorService people = Executors.newFixedThreadPool(MANY + 1);
    private final Shared<String, Integer> shared = new Shared<>(4);
    private final AtomicInteger worked = new AtomicInteger();

    @AfterEach
    void go() {
        people.shutdownNow();
    }

    @Test
    @DisplayName("is worked out once more for all who came meanwhile, and anew for who comes later")
    void onceMoreForAll() throws Exception {
        var begun = new CountDownLatch(1);
        var on = new CountDownLatch(1);
        Future<Integer> first = people.submit(() -> shared.get("day", () -> {
            begun.countDown();
            awaits(on);
            return worked.incrementAndGet();
        }));
        begun.await();
        var came = new AtomicInteger();
        List<Future<Integer>> others = new ArrayList<>();
        List<Thread> waiting = new ArrayList<>();
        for (int i = 0; i < MANY; i++) {
            others.add(people.submit(() -> {
                synchronized (waiting) {
                    waiting.add(Thread.currentThread());
                }
                came.incrementAndGet();
                return shared.get("day", worked::incrementAndGet);
            }));
        }
        Await.until("all wait", () -> came.get() == MANY && allBlocked(waiting));
        assertThat(shared.get("night", () -> 7)).isEqualTo(7);
        on.countDown();
        assertThat(first.get()).isEqualTo(1);
        for (Future<Integer> each : others) {
            assertThat(each.get()).isEqualTo(2);
        }
        assertThat(shared.get("day", worked::incrementAndGet)).isEqualTo(3);
    }

    @Test
    @DisplayName("is never older than who asks, also where it went wrong for the one before")
    void neverOlder() {
        assertThat(shared.get("day", () -> 1)).isEqualTo(1);
        assertThatThrownBy(() -> shared.get("day", () -> {
                    throw new IllegalStateException("no");
                }))
                .hasMessage("no");
        assertThat(shared.get("day", () -> 3)).isEqualTo(3);
    }

    private static boolean allBlocked(List<Thread> threads) {
        synchronized (threads) {
            return threads.stream().allMatch(each -> each.getState() == Thread.State.BLOCKED);
        }
    }

    private static void awaits(CountDownLatch latch) {
        try {
            latch.await();
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }
}
