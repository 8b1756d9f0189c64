package org.gantrel.service.engine;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.service.execution.Supervisor;
import org.gantrel.service.run.Moved;
import org.gantrel.service.time.Stopwatch;
import org.springframework.stereotype.Component;

/**
 * Whose time is over: limits and patience of tasks and of what leads others, and windows. As long as it is not known
 * whether what was under way has ended while this service was stopped, or kept from working, nobody's is. Used by the
 * engine's thread alone.
 */
@Component
class TimeKeeper {

    /** What is over for a run. */
    enum What {
        TASK("the time limit of "),
        PARENT("the time limit of "),
        WINDOW("the window of ");

        private final String words;

        What(String words) {
            this.words = words;
        }

        String words() {
            return words;
        }
    }

    /** A run whose time is over. */
    record Due(long number, What what) {}

    private static final Duration SOON = Duration.ofSeconds(1);

    /** Whoever wakes so much later than he wanted to was kept from working, and so were those that tell of ends. */
    private static final Duration LATE = Duration.ofSeconds(2);

    private final Supervisor supervisor;
    private final ParentTimes parents;
    private final Windows windows;
    private final Stopwatch watch;
    private long wakesBy;
    private long hearsUntil;
    /** Whether it heard of ends, and has not decided anything since. */
    private boolean hears;

    TimeKeeper(Supervisor supervisor, ParentTimes parents, Windows windows, Stopwatch watch) {
        this.watch = watch;
        this.wakesBy = watch.nanos();
        this.hearsUntil = wakesBy;
        this.supervisor = supervisor;
        this.parents = parents;
        this.windows = windows;
    }

    /** Takes in what follows from a move. */
    void act(Moved moved) {
        windows.act(moved);
        if (moved.run().isParent()) {
            parents.act(moved);
        } else {
            supervisor.act(moved);
        }
    }

    void ended(long number) {
        parents.ended(number);
        windows.ended(number);
    }

    /** Notes until when the engine means to sleep. @return the same */
    Duration sleeps(Duration until) {
        Duration longest = until.compareTo(EngineThread.LONGEST_SLEEP) < 0 ? until : EngineThread.LONGEST_SLEEP;
        // what is overdue has the engine wake at once
        wakesBy = watch.nanos() + Math.max(0, longest.toNanos());
        return until;
    }

    /** Notes that the engine woke up. */
    void wakes() {
        long now = watch.nanos();
        if (now - hearsUntil < 0) {
            return;
        }
        // where everything is always late, something has to be decided all the same
        hears = now - wakesBy > LATE.toNanos() && !hears;
        if (hears) {
            hearsUntil = now + SOON.toNanos();
        }
    }

    /** How long ends are heard of that came meanwhile, before anything else is decided; nothing where all are known. */
    Optional<Duration> hearing() {
        long left = hearsUntil - watch.nanos();
        return supervisor.hearing().or(() -> left > 0 ? Optional.of(Duration.ofNanos(left)) : Optional.empty());
    }

    /** Names those whose time is over, each once. */
    List<Due> due(Instant now) {
        if (hearing().isPresent()) {
            return List.of();
        }
        var due = new ArrayList<Due>();
        supervisor.due().forEach(number -> due.add(new Due(number, What.TASK)));
        parents.due().forEach(number -> due.add(new Due(number, What.PARENT)));
        windows.due(now).forEach(number -> due.add(new Due(number, What.WINDOW)));
        return due;
    }

    /** Names one again that could not be dealt with. */
    void again(Due due, Instant now) {
        switch (due.what()) {
            case TASK -> supervisor.lookAgain(due.number(), SOON);
            case PARENT -> parents.lookAgain(due.number(), SOON);
            case WINDOW -> windows.lookAt(due.number(), now.plus(SOON));
        }
    }

    /** How long until somebody's time is over; nothing where nobody's is coming. */
    Optional<Duration> next(Instant now) {
        Optional<Duration> hearing = hearing();
        return hearing.isPresent()
                ? hearing
                : Stream.of(supervisor.next(), parents.next(), windows.next().map(at -> Duration.between(now, at)))
                        .flatMap(Optional::stream)
                        .min(Duration::compareTo);
    }
}
