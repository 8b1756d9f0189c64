package org.gantrel.service;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** A clock that stands still until a test moves it. */
public final class MovableClock extends Clock {

    private volatile Instant now;

    public MovableClock(Instant now) {
        this.now = now;
    }

    public void moveTo(Instant instant) {
        now = instant;
    }

    public void moveBy(Duration duration) {
        now = now.plus(duration);
    }

    @Override
    public Instant instant() {
        return now;
    }

    @Override
    public ZoneId getZone() {
        return ZoneOffset.UTC;
    }

    @Override
    public Clock withZone(ZoneId zone) {
        return this;
    }
}
