package org.gantrel.service.execution;

import java.nio.file.Files;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Queue;
import java.util.Set;
import java.util.concurrent.ConcurrentLinkedQueue;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.Effect;
import org.gantrel.core.run.Effect.Signal.Force;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.service.run.Finish;
import org.gantrel.service.run.Moved;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.Stopwatch;
import org.gantrel.service.time.Waker;
import org.springframework.stereotype.Component;

/**
 * Follows the tasks that are under way. It decides nothing: it has work begun and stopped, looks at the time, and hands
 * over what is told of them. Used by the engine's thread alone, and nothing here waits: whatever may, is done by others.
 */
@Component
public class Supervisor {

    /** What is followed, and when it is to be launched or looked at again, on a watch that does not jump. */
    private static final class Followed {
        private final Attempt attempt;
        private long launchAt = Long.MAX_VALUE;
        private long lookAt = Long.MAX_VALUE;

        private Followed(Attempt attempt) {
            this.attempt = attempt;
        }
    }

    /** What was under way when a backup was made has been begun, and has ended long since: it must not begin again. */
    private static final Ending OF_BEFORE = new Ending(
            RunState.FAILED,
            "it was under way when the backup was made that was put back; what came of it is not known, and it is not"
                    + " repeated");

    /** A host that does not answer keeps the others no longer. */
    private static final Duration LONGEST_HEARING = Duration.ofSeconds(10);

    private final Runs runs;
    private final Launcher launcher;
    private final Attempts attempts;
    private final Stopwatch watch;
    private final Clock clock;
    private final boolean putBack;
    private final Map<Long, Followed> followed = new HashMap<>();
    /** Those that were under way when the service stopped, and of which nothing has been told yet. */
    private final Set<Long> unheardOf = new HashSet<>();

    private long hearsUntil;
    private final Queue<Report> reports = new ConcurrentLinkedQueue<>();

    Supervisor(
            Runs runs,
            Launcher launcher,
            Attempts attempts,
            Settings settings,
            Stopwatch watch,
            Clock clock,
            Waker waker) {
        this.putBack = Files.exists(settings.putBackFile());
        this.clock = clock;
        this.runs = runs;
        this.launcher = launcher;
        this.attempts = attempts;
        this.watch = watch;
        attempts.tellTo(report -> {
            reports.add(report);
            waker.wake();
        });
    }

    /** How many tasks are followed. */
    public int size() {
        return followed.size();
    }

    public boolean follows(long number) {
        return followed.containsKey(number);
    }

    /** Does what follows from a move of a task. */
    public void act(Moved moved) {
        Run run = moved.run();
        for (Effect effect : moved.effects()) {
            if (effect instanceof Effect.Launch launch) {
                launch(run, launch.after());
            } else if (effect instanceof Effect.Follow) {
                follow(run);
            } else if (effect instanceof Effect.Signal signal) {
                signal(run.number(), signal.force());
            } else if (effect instanceof Effect.LookAgain look) {
                lookAgain(run.number(), look.after());
            }
        }
    }

    /** Has a task begun after so long. */
    public void launch(Run run, Duration after) {
        Followed fresh = take(run);
        if (after.isZero()) {
            attempts.launch(fresh.attempt);
        } else {
            fresh.launchAt = watch.nanos() + after.toNanos();
        }
    }

    /** Takes up a task again that was under way when the service stopped. */
    public void follow(Run run) {
        if (!follows(run.number())) {
            Attempt attempt = take(run).attempt;
            if (putBack && attempt.ends()) {
                reports.add(new Report.Ended(run.number(), Finish.of(OF_BEFORE), clock.instant()));
            } else {
                unheardOf.add(run.number());
                hearsUntil = watch.nanos() + LONGEST_HEARING.toNanos();
                attempts.follow(attempt);
            }
        }
    }

    /**
     * How long to wait at most until it is known of all that was under way when the service stopped whether it has ended
     * meanwhile. Before that is known, nobody's time is over, and nobody is in another's way.
     */
    public Optional<Duration> hearing() {
        Duration left = Duration.ofNanos(hearsUntil - watch.nanos());
        return unheardOf.isEmpty() || left.isNegative() || left.isZero() ? Optional.empty() : Optional.of(left);
    }

    private Followed take(Run run) {
        var fresh = new Followed(new Attempt(run, (Job.Task) runs.jobOf(run), launcher.folder(run.number())));
        followed.put(run.number(), fresh);
        return fresh;
    }

    /** Has a task asked to stop, or ended. */
    public void signal(long number, Force force) {
        Followed known = followed.get(number);
        if (known == null) {
            return;
        }
        if (known.launchAt != Long.MAX_VALUE) {
            // nobody has begun it yet, so there is nobody to ask
            known.launchAt = Long.MAX_VALUE;
            known.attempt.stop(force);
            attempts.launch(known.attempt);
            return;
        }
        attempts.signal(known.attempt, force);
    }

    /** Names a task after so long. */
    public void lookAgain(long number, Duration after) {
        Followed known = followed.get(number);
        if (known != null) {
            known.lookAt = watch.nanos() + after.toNanos();
        }
    }

    /** Has those launched whose moment has come, and names those that are to be looked at. */
    public List<Long> due() {
        long now = watch.nanos();
        var due = new ArrayList<Long>();
        for (Map.Entry<Long, Followed> each : followed.entrySet()) {
            Followed known = each.getValue();
            if (known.launchAt <= now) {
                known.launchAt = Long.MAX_VALUE;
                attempts.launch(known.attempt);
            }
            if (known.lookAt <= now) {
                known.lookAt = Long.MAX_VALUE;
                due.add(each.getKey());
            }
        }
        return due;
    }

    /** How long until something is due by itself; nothing where nothing is. */
    public Optional<Duration> next() {
        long first = Long.MAX_VALUE;
        for (Followed each : followed.values()) {
            first = Math.min(first, Math.min(each.launchAt, each.lookAt));
        }
        return first == Long.MAX_VALUE
                ? Optional.empty()
                : Optional.of(Duration.ofNanos(Math.max(0, first - watch.nanos())));
    }

    /** What was told since, in order. */
    public List<Report> reports(int most) {
        var told = new ArrayList<Report>();
        for (Report next = reports.poll(); next != null; next = told.size() < most ? reports.poll() : null) {
            unheardOf.remove(next.number());
            if (!(next instanceof Report.GoesOn)) {
                told.add(next);
            }
        }
        return told;
    }

    /** Hears a report once more that could not be dealt with. */
    public void again(Report report) {
        reports.add(report);
    }

    /** Lets go of a task whose end is written down. */
    public void settle(long number) {
        Followed ended = followed.remove(number);
        if (ended != null) {
            attempts.settled(ended.attempt);
        }
    }

    /** Starts a program that does nothing, so that the first real start finds all it needs in memory. */
    public void warmUp() {
        launcher.warmUp();
    }
}
