package org.gantrel.service;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import org.gantrel.service.run.Run;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** A whole service for each test, on a clock that stands still until the test moves it. */
public abstract class OnMovedClock {

    protected final MovableClock clock;

    @TempDir
    protected Path folder;

    protected LiveService service;

    protected OnMovedClock() {
        this(Instant.parse("2026-11-23T01:00:00Z"));
    }

    protected OnMovedClock(Instant begin) {
        clock = new MovableClock(begin);
    }

    @BeforeEach
    void open() {
        service = LiveService.fresh(folder, clock);
    }

    @AfterEach
    void close() {
        service.close();
    }

    protected void move(Duration by) {
        clock.moveBy(by);
        service.bean(Waker.class).wake();
    }

    protected void waitsFor(Run run, String what) {
        service.waits(run, what);
    }
}
