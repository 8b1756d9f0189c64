package org.gantrel.service.engine;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import org.gantrel.service.time.Presence;
import org.gantrel.service.time.Waker;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;

/** The thread that the engine works in. A fault in one step is logged, and the next step comes all the same. */
@Component
class EngineThread implements SmartLifecycle {

    private static final Logger LOG = LoggerFactory.getLogger(EngineThread.class);
    private static final Duration LONGEST_SLEEP = Duration.ofSeconds(10);
    private static final Duration PAUSE_AFTER_FAULT = Duration.ofSeconds(1);

    private final Engine engine;
    private final Waker waker;
    private final Presence presence;
    private final Clock clock;
    private volatile Thread thread;

    EngineThread(Engine engine, Waker waker, Presence presence, Clock clock) {
        this.engine = engine;
        this.waker = waker;
        this.presence = presence;
        this.clock = clock;
    }

    @Override
    public void start() {
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

    private void run() {
        boolean resumed = false;
        boolean warm = false;
        while (thread == Thread.currentThread()) {
            Instant now = clock.instant();
            Instant until = now.plus(PAUSE_AFTER_FAULT);
            try {
                presence.touch(now);
                if (!resumed) {
                    engine.resume();
                    resumed = true;
                }
                Instant next = engine.step(now);
                Instant latest = now.plus(LONGEST_SLEEP);
                until = next.isBefore(latest) ? next : latest;
                warm = warm || engine.warmUp(clock.instant());
            } catch (RuntimeException e) {
                LOG.error("the engine met a fault and goes on", e);
            }
            try {
                waker.sleepUntil(until);
            } catch (InterruptedException e) {
                LOG.debug("woken for the end");
            }
        }
    }
}
