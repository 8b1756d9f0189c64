package org.gantrel.service.engine;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;
import org.gantrel.service.durable.RoomToWrite;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.time.Presence;
import org.gantrel.service.time.RepeatedFault;
import org.gantrel.service.time.Stopwatch;
import org.gantrel.service.time.Waker;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;

/**
 * The thread that the engine works in. Whatever goes wrong in one step is logged, an Error too, and the next step comes
 * all the same; how long ago the last one went well can be asked.
 */
@Component
class EngineThread implements SmartLifecycle, EnginePulse {

    private static final Logger LOG = LoggerFactory.getLogger(EngineThread.class);
    static final Duration LONGEST_SLEEP = Duration.ofSeconds(5);
    private static final Duration PAUSE_AFTER_FAULT = Duration.ofSeconds(1);

    private final RepeatedFault faults = new RepeatedFault(LOG);
    private final Engine engine;
    private final RoomToWrite room;
    private final Waker waker;
    private final Presence presence;
    private final Clock clock;
    private final Stopwatch watch;
    private volatile Thread thread;
    private volatile long lastGoodStep;
    private volatile String fault = "";
    private volatile boolean onlyHears;
    private final List<Consumer<Duration>> listeners = new CopyOnWriteArrayList<>();

    EngineThread(Engine engine, RoomToWrite room, Waker waker, Presence presence, Clock clock, Stopwatch watch) {
        this.engine = engine;
        this.room = room;
        this.waker = waker;
        this.presence = presence;
        this.clock = clock;
        this.watch = watch;
        this.lastGoodStep = watch.nanos();
    }

    @Override
    public void start() {
        lastGoodStep = watch.nanos();
        thread = new Thread(this::run, "engine");
        thread.start();
    }

    @Override
    public void stop() {
        Thread working = thread;
        thread = null;
        waker.wake();
        try {
            working.join(5_000);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        presence.touch(clock.instant());
    }

    @Override
    public boolean isRunning() {
        return thread != null;
    }

    @Override
    public boolean isAlive() {
        Thread working = thread;
        return working != null && working.isAlive();
    }

    @Override
    public Duration sinceLastGoodStep() {
        return Duration.ofNanos(Math.max(0, watch.nanos() - lastGoodStep));
    }

    @Override
    public void onStep(Consumer<Duration> listener) {
        listeners.add(listener);
    }

    @Override
    public boolean onlyHears() {
        return onlyHears;
    }

    @Override
    public String fault() {
        return fault;
    }

    private void run() {
        boolean resumed = false;
        boolean warm = false;
        while (thread == Thread.currentThread()) {
            Duration pause = PAUSE_AFTER_FAULT;
            try {
                Instant now = clock.instant();
                presence.touch(now);
                room.complaint().ifPresent(complaint -> {
                    throw Refusal.noRoom(complaint);
                });
                if (!resumed) {
                    engine.resume(now);
                    resumed = true;
                }
                long begin = watch.nanos();
                Duration next = engine.step(now);
                Duration took = Duration.ofNanos(watch.nanos() - begin);
                onlyHears = engine.onlyHears();
                listeners.forEach(listener -> listener.accept(took));
                // reckoned from the step's beginning, which may have been long ago
                Duration left = next.minus(took);
                pause = left.isNegative() ? Duration.ZERO : left.compareTo(LONGEST_SLEEP) < 0 ? left : LONGEST_SLEEP;
                lastGoodStep = watch.nanos();
                fault = "";
                warm = warm || engine.warmUp(clock.instant());
            } catch (Throwable e) {
                fault = String.valueOf(e.getMessage() == null ? e : e.getMessage());
                faults.met("the engine", e);
            }
            try {
                waker.sleep(pause);
            } catch (InterruptedException e) {
                LOG.debug("woken for the end");
            }
        }
    }
}
