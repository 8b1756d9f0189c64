package org.gantrel.service.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.time.Clock;
import java.time.Duration;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import org.gantrel.service.Await;
import org.gantrel.service.durable.RoomToWrite;
import org.gantrel.service.time.Presence;
import org.gantrel.service.time.Stopwatch;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.springframework.beans.BeanUtils;

@DisplayName("The engine's thread")
class EngineThreadTest {

    private final AtomicLong nanos = new AtomicLong();
    private final AtomicInteger steps = new AtomicInteger();
    private final Engine engine = mock(Engine.class);
    private final Waker waker = waker();

    private static Waker waker() {
        return BeanUtils.instantiateClass(Waker.class);
    }

    private final EngineThread thread = new EngineThread(
            engine, mock(RoomToWrite.class), waker, mock(Presence.class), Clock.systemUTC(), new Stopwatch() {
                @Override
                public long nanos() {
                    return nanos.get();
                }
            });

    @Test
    @DisplayName("goes on after an Error, says so meanwhile, and says that it is well when it is")
    void goesOnAfterAnError() {
        var broken = new AtomicBoolean(true);
        when(engine.step(any())).thenAnswer(call -> {
            steps.incrementAndGet();
            if (broken.get()) {
                throw new StackOverflowError("too deep");
            }
            return Duration.ofMillis(10);
        });
        thread.start();
        try {
            Await.until("it tries again", () -> steps.get() >= 2);
            assertThat(thread.isAlive()).isTrue();
            assertThat(thread.fault()).isEqualTo("too deep");
            nanos.set(Duration.ofMinutes(1).toNanos());
            assertThat(thread.sinceLastGoodStep()).isEqualTo(Duration.ofMinutes(1));
            broken.set(false);
            Await.until("it is well", () -> thread.fault().isEmpty());
            assertThat(thread.sinceLastGoodStep()).isZero();
        } finally {
            thread.stop();
        }
        Await.until("it has ended", () -> !thread.isAlive());
    }
}
