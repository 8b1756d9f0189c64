package org.gantrel.service.web;

import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import javax.sql.DataSource;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.durable.Durability;
import org.gantrel.service.durable.RoomToWrite;
import org.gantrel.service.engine.EnginePulse;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.Stopwatch;
import org.gantrel.service.time.Threads;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;

/**
 * Whether the parts of the service work. The database and the disk are looked at by a thread of their own, so that asking
 * costs nothing and answers even where they do not.
 */
@Component
class Vitals implements DisposableBean {

    private static final Duration STUCK = Duration.ofSeconds(30);
    private static final Duration STALE = Duration.ofSeconds(20);
    private static final int DATABASE_SECONDS = 5;

    /** What was found. */
    record Signs(String engine, String database, String disk, int setAside) {}

    private final EnginePulse engine;
    private final DataSource source;
    private final RoomToWrite room;
    private final Durability durability;
    private final SetAside aside;
    private final Settings settings;
    private final Stopwatch watch;
    private final ScheduledExecutorService looks = Threads.timer("vitals");
    private volatile long databaseAnswered;
    private volatile boolean databaseFine = true;
    private volatile boolean roomy = true;

    Vitals(
            EnginePulse engine,
            DataSource source,
            RoomToWrite room,
            Durability durability,
            SetAside aside,
            Settings settings,
            Stopwatch watch) {
        this.engine = engine;
        this.source = source;
        this.room = room;
        this.durability = durability;
        this.aside = aside;
        this.settings = settings;
        this.watch = watch;
        this.databaseAnswered = watch.nanos();
        looks.scheduleWithFixedDelay(this::lookAgain, 1, 2, TimeUnit.SECONDS);
    }

    Signs look() {
        boolean answered = Duration.ofNanos(watch.nanos() - databaseAnswered).compareTo(STALE) < 0;
        return new Signs(
                engine(),
                answered && databaseFine ? "up" : "down",
                roomy ? "up" : "full",
                aside.all().size());
    }

    private String engine() {
        if (!engine.isAlive()) {
            return "down";
        }
        return engine.sinceLastGoodStep().compareTo(STUCK) < 0 ? "up" : "stuck";
    }

    private void lookAgain() {
        try {
            roomy = room.look() >= settings.limits().leastFreeSpace();
        } catch (IOException | RuntimeException e) {
            roomy = false;
        }
        try (Connection connection = source.getConnection()) {
            databaseFine = connection.isValid(DATABASE_SECONDS);
        } catch (SQLException | RuntimeException e) {
            databaseFine = false;
        }
        databaseAnswered = watch.nanos();
        durability.look();
    }

    @Override
    public void destroy() {
        looks.shutdown();
    }
}
