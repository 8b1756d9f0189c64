package org.gantrel.core.run;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.run.Effect.End;
import org.gantrel.core.run.Effect.Follow;
import org.gantrel.core.run.Effect.Launch;
import org.gantrel.core.run.Effect.LookAgain;
import org.gantrel.core.run.Effect.Note;
import org.gantrel.core.run.Effect.Signal;
import org.gantrel.core.run.Effect.Signal.Force;
import org.gantrel.core.run.Effect.StopChildren;
import org.gantrel.core.run.RunEvent.Admitted;
import org.gantrel.core.run.RunEvent.CancelAsked;
import org.gantrel.core.run.RunEvent.Done;
import org.gantrel.core.run.RunEvent.FoundAgain;
import org.gantrel.core.run.RunEvent.HeldBack;
import org.gantrel.core.run.RunEvent.LimitReached;
import org.gantrel.core.run.RunEvent.PatienceEnded;
import org.gantrel.core.run.RunEvent.Refused;
import org.gantrel.core.run.RunStatus.Ended;
import org.gantrel.core.run.RunStatus.Stop;
import org.gantrel.core.run.RunStatus.Stop.Why;
import org.gantrel.core.run.RunStatus.Underway;
import org.gantrel.core.run.RunStatus.Waiting;
import org.gantrel.core.text.Words;

/**
 * The life of a run as a state machine. Pure: a status and an event give the next status and what is to be done once
 * that is written down. What an event does not move stays as it is; an end is never undone.
 *
 * <pre>
 *            Admitted               HeldBack      CancelAsked          Refused          Done
 * waiting    under way, launch      waiting       ended: cancelled     ended: failed    -
 *
 *            CancelAsked            LimitReached  PatienceEnded        Refused          Done
 * under way  stopping, signal       stopping      signal to end it     ended: failed    ended
 * stopping   -                      -             signal to end it     ended by stop    ended by stop
 * ended      -                      -             -                    -                -
 * </pre>
 */
public final class RunLife {

    /** A move of a run. */
    public record Move(RunStatus next, List<Effect> effects) {
        public Move {
            effects = List.copyOf(effects);
        }

        /** Whether the run has ended with it. */
        public boolean ends() {
            return next instanceof Ended;
        }
    }

    private RunLife() {}

    /** What becomes of a run on an event; nothing where the event does not concern it as it is now. */
    public static Optional<Move> on(RunStatus status, RunEvent event, RunPolicy policy, Instant now) {
        if (status instanceof Waiting waiting) {
            return Optional.ofNullable(onWaiting(waiting, event, policy, now));
        }
        if (status instanceof Underway underway) {
            return Optional.ofNullable(onUnderway(underway, event, policy, now));
        }
        return Optional.empty();
    }

    private static Move onWaiting(Waiting status, RunEvent event, RunPolicy policy, Instant now) {
        if (event instanceof Admitted admitted) {
            var next = new Underway(admitted.at(), admitted.identity(), Stop.NO);
            var effects = new ArrayList<Effect>();
            effects.add(new Note(admitted.at(), "started as " + admitted.identity()));
            effects.add(new Launch(atLeastZero(Duration.between(now, admitted.at()))));
            limit(next, policy, now).ifPresent(after -> effects.add(new LookAgain(after)));
            return new Move(next, effects);
        }
        if (event instanceof HeldBack held && !held.by().equals(status.what())) {
            return new Move(new Waiting(held.by()), List.of());
        }
        if (event instanceof CancelAsked cancel) {
            return end(
                    new Ending(RunState.CANCELLED, "cancelled by " + cancel.by() + " before it started"),
                    Optional.empty(),
                    now);
        }
        if (event instanceof Refused refused) {
            return end(notStarted(refused), Optional.empty(), now);
        }
        return null;
    }

    private static Move onUnderway(Underway status, RunEvent event, RunPolicy policy, Instant now) {
        if (event instanceof CancelAsked cancel && !status.stop().isAsked()) {
            return stop(status, new Stop(Why.CANCEL, cancel.by()), "asked to stop by " + cancel.by(), policy, now);
        }
        if (event instanceof LimitReached
                && !status.stop().isAsked()
                && policy.timeLimit().isPresent()) {
            return stop(status, new Stop(Why.LIMIT, ""), "reached its time limit; asked to stop", policy, now);
        }
        if (event instanceof PatienceEnded && status.stop().isAsked() && !policy.parent()) {
            return new Move(status, List.of(new Signal(Force.END), new LookAgain(policy.patience())));
        }
        if (event instanceof Refused refused) {
            return end(
                    status.stop().isAsked() ? stopped(status.stop(), policy, "") : notStarted(refused),
                    Optional.of(status),
                    now);
        }
        if (event instanceof Done done) {
            Ending ending = status.stop().isAsked() && !policy.parent()
                    ? stopped(status.stop(), policy, done.doubt())
                    : done.ending();
            return end(ending, Optional.of(status), now);
        }
        if (event instanceof FoundAgain) {
            return foundAgain(status, policy, now);
        }
        return null;
    }

    private static Move foundAgain(Underway status, RunPolicy policy, Instant now) {
        var effects = new ArrayList<Effect>();
        effects.add(new Follow());
        if (status.stop().isAsked()) {
            effects.addAll(stopping(status.stop(), policy));
        } else {
            limit(status, policy, now).ifPresent(after -> effects.add(new LookAgain(after)));
        }
        return new Move(status, effects);
    }

    private static Move stop(Underway status, Stop stop, String note, RunPolicy policy, Instant now) {
        var effects = new ArrayList<Effect>();
        effects.add(new Note(now, note));
        effects.addAll(stopping(stop, policy));
        return new Move(new Underway(status.since(), status.identity(), stop), effects);
    }

    private static List<Effect> stopping(Stop stop, RunPolicy policy) {
        return policy.parent()
                ? List.of(new StopChildren(stop.by()))
                : List.of(new Signal(Force.ASK), new LookAgain(policy.patience()));
    }

    private static Move end(Ending ending, Optional<Underway> before, Instant now) {
        // a run is not shorter than nothing, whatever the clock did meanwhile
        Instant at =
                before.map(Underway::since).filter(since -> since.isAfter(now)).orElse(now);
        return new Move(
                new Ended(ending, at),
                List.of(new Note(at, ending.state().word().replace('-', ' ') + ": " + ending.message()), new End()));
    }

    private static Ending notStarted(Refused refused) {
        return new Ending(RunState.FAILED, "not started: " + refused.why());
    }

    private static Ending stopped(Stop stop, RunPolicy policy, String doubt) {
        String after = doubt.isEmpty() ? "" : "; " + doubt;
        return stop.why() == Why.LIMIT
                ? new Ending(
                        RunState.TIMED_OUT,
                        "stopped at its time limit of "
                                + policy.timeLimit().map(Words::duration).orElse("")
                                + after)
                : new Ending(RunState.CANCELLED, "cancelled by " + stop.by() + after);
    }

    /** How much of its time limit is left. */
    private static Optional<Duration> limit(Underway status, RunPolicy policy, Instant now) {
        return policy.timeLimit()
                .map(limit -> atLeastZero(Duration.between(now, status.since()).plus(limit)));
    }

    private static Duration atLeastZero(Duration duration) {
        return duration.isNegative() ? Duration.ZERO : duration;
    }
}
