package org.gantrel.core.run;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.run.Effect.End;
import org.gantrel.core.run.Effect.Follow;
import org.gantrel.core.run.Effect.Launch;
import org.gantrel.core.run.Effect.LookAgain;
import org.gantrel.core.run.Effect.NextAttempt;
import org.gantrel.core.run.Effect.Note;
import org.gantrel.core.run.Effect.NoteOnce;
import org.gantrel.core.run.Effect.Signal;
import org.gantrel.core.run.Effect.Signal.Force;
import org.gantrel.core.run.Effect.StopChildren;
import org.gantrel.core.run.Effect.WatchClock;
import org.gantrel.core.run.RunEvent.Admitted;
import org.gantrel.core.run.RunEvent.CancelAsked;
import org.gantrel.core.run.RunEvent.Done;
import org.gantrel.core.run.RunEvent.FoundAgain;
import org.gantrel.core.run.RunEvent.GiveUp;
import org.gantrel.core.run.RunEvent.HeldBack;
import org.gantrel.core.run.RunEvent.LimitReached;
import org.gantrel.core.run.RunEvent.NotWanted;
import org.gantrel.core.run.RunEvent.PatienceEnded;
import org.gantrel.core.run.RunEvent.Refused;
import org.gantrel.core.run.RunEvent.TakenUp;
import org.gantrel.core.run.RunEvent.TryNow;
import org.gantrel.core.run.RunEvent.WindowOver;
import org.gantrel.core.run.RunStatus.Again;
import org.gantrel.core.run.RunStatus.Ended;
import org.gantrel.core.run.RunStatus.Stop;
import org.gantrel.core.run.RunStatus.Stop.Why;
import org.gantrel.core.run.RunStatus.Tries;
import org.gantrel.core.run.RunStatus.Underway;
import org.gantrel.core.run.RunStatus.Waiting;
import org.gantrel.core.text.Words;

/**
 * The life of a run as a state machine. Pure: a status and an event give the next status and what is to be done once
 * that is written down. What an event does not move stays as it is; an end is never undone, but a chain that has ended may
 * go on after a repair.
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
 *
 * <p>Work that ended badly goes back to waiting, with its next try, where its policy says so. Work that was over before it
 * could be told to stop ended as it did.
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
        if (event instanceof TakenUp again && policy.parent()) {
            // what it leads goes on in the same run, so that its history stays in one place
            return Optional.of(new Move(
                    Waiting.TAKEN_UP, List.of(new Note(now, "goes on " + again.how() + ", by " + again.by()))));
        }
        return Optional.empty();
    }

    private static Move onWaiting(Waiting status, RunEvent event, RunPolicy policy, Instant now) {
        if (event instanceof Admitted admitted) {
            Tries tries = status.again().map(Again::tries).orElse(new Tries(1, admitted.at()));
            var next = new Underway(admitted.at(), admitted.identity(), Stop.NO, tries);
            var effects = new ArrayList<Effect>();
            effects.add(new Note(
                    admitted.at(),
                    (tries.number() == 1 ? "started" : "try " + tries.number() + " started")
                            + ActsAs.words(admitted.identity())));
            effects.add(new Launch(atLeastZero(Duration.between(now, admitted.at()))));
            effects.addAll(watches(next, policy, now));
            return new Move(next, effects);
        }
        if (event instanceof HeldBack held && !held.by().equals(status.what())) {
            return new Move(new Waiting(held.by(), status.again(), status.takenUp()), List.of());
        }
        if (event instanceof CancelAsked cancel) {
            String before = status.again()
                    .map(again -> " before try " + again.tries().number())
                    .orElse(status.takenUp() ? " before it went on" : " before it started");
            return end(new Ending(RunState.CANCELLED, "cancelled by " + cancel.by() + before), Optional.empty(), now);
        }
        if (event instanceof Refused refused) {
            return end(notStarted(refused), Optional.empty(), now);
        }
        if (event instanceof NotWanted notWanted) {
            return end(
                    status.again()
                            .map(again -> asLast(again, notWanted.ending().message()))
                            .orElse(notWanted.ending()),
                    Optional.empty(),
                    now);
        }
        if (status.again().isPresent()) {
            return onAgain(status.again().get(), event, now);
        }
        return null;
    }

    private static Move onAgain(Again again, RunEvent event, Instant now) {
        if (event instanceof TryNow wanted && again.at().isAfter(now)) {
            return new Move(
                    Waiting.forTry("", new Again(again.tries(), now, again.last())),
                    List.of(new Note(now, "try " + again.tries().number() + " is wanted at once by " + wanted.by())));
        }
        if (event instanceof GiveUp giveUp) {
            return end(asLast(again, "given up by " + giveUp.by()), Optional.empty(), now);
        }
        return null;
    }

    /** What has begun is not skipped: it ends as its last try did. */
    private static Ending asLast(Again again, String why) {
        return new Ending(
                again.last().state(),
                again.last().message() + "; " + why + " before try "
                        + again.tries().number());
    }

    private static Move onUnderway(Underway status, RunEvent event, RunPolicy policy, Instant now) {
        if (event instanceof CancelAsked cancel && !status.stop().isAsked()) {
            return stop(status, new Stop(Why.CANCEL, cancel.by()), "asked to stop by " + cancel.by(), policy, now);
        }
        if (event instanceof LimitReached && !status.stop().isAsked()) {
            return limit(status, policy, now)
                    .map(limit -> stop(status, new Stop(limit.why(), ""), noteOf(limit.why()), policy, now))
                    .orElse(null);
        }
        if (event instanceof WindowOver && !status.stop().isAsked()) {
            return stop(status, new Stop(Why.WINDOW, ""), noteOf(Why.WINDOW), policy, now);
        }
        if (event instanceof PatienceEnded && status.stop().isAsked() && !policy.parent()) {
            return new Move(
                    status,
                    List.of(
                            new NoteOnce(now, forced(status, policy)),
                            new Signal(Force.END),
                            new LookAgain(policy.patience())));
        }
        if (event instanceof Refused refused) {
            Ending ending = status.stop().isAsked() ? stopped(status.stop(), policy, "") : notStarted(refused);
            // a host may be away or a disk full for a moment only, and nothing has been done yet that could be done
            // twice
            String doubt = refused.unsure() ? refused.why() : "";
            return again(status, new Done(ending, doubt, Optional.empty(), false), ending, policy, now)
                    .orElseGet(() -> end(lastOf(status, ending, policy), Optional.of(status), now));
        }
        if (event instanceof Done done) {
            Ending ending = !status.stop().isAsked() || policy.parent()
                    ? done.ending()
                    : done.untold() ? untold(done.ending()) : stopped(status.stop(), policy, done.doubt());
            return again(status, done, ending, policy, now)
                    .orElseGet(() -> end(lastOf(status, ending, policy), Optional.of(status), now));
        }
        if (event instanceof FoundAgain) {
            return foundAgain(status, policy, now);
        }
        return null;
    }

    /** The next try of work that ended, where there is to be one. Of an end that is not sure nobody knows that it is one. */
    private static Optional<Move> again(Underway status, Done done, Ending ending, RunPolicy policy, Instant now) {
        Why why = status.stop().why();
        if (policy.parent() || !done.doubt().isEmpty() || why != Why.NO && why != Why.LIMIT) {
            return Optional.empty();
        }
        Tries tries = status.tries();
        return policy.retry()
                .next(tries.number(), ending, done.code())
                .filter(wait -> !isOver(policy, tries.began(), now.plus(wait)))
                .map(wait -> {
                    int next = tries.number() + 1;
                    String what = "try %d of %d, %s after the last"
                            .formatted(next, policy.retry().tries(), Words.duration(wait));
                    return new Move(
                            Waiting.forTry(what, new Again(new Tries(next, tries.began()), now.plus(wait), ending)),
                            List.of(
                                    new Note(
                                            now,
                                            "try " + tries.number() + " "
                                                    + ending.state().word().replace('-', ' ') + ": "
                                                    + ending.message()),
                                    new NextAttempt(ending, now, done.code())));
                });
    }

    private static boolean isOver(RunPolicy policy, Instant began, Instant at) {
        return policy.total().filter(total -> !at.isBefore(began.plus(total))).isPresent()
                || policy.stopAt().filter(end -> !at.isBefore(end)).isPresent();
    }

    private static Ending lastOf(Underway status, Ending ending, RunPolicy policy) {
        int tries = status.tries().number();
        return tries == 1 || ending.state().isGood()
                ? ending
                : new Ending(
                        ending.state(),
                        ending.message() + "; try " + tries + " of "
                                + policy.retry().tries());
    }

    private static Move foundAgain(Underway status, RunPolicy policy, Instant now) {
        var effects = new ArrayList<Effect>();
        effects.add(new Follow());
        if (status.stop().isAsked()) {
            effects.addAll(stopping(status.stop(), policy));
        } else {
            effects.addAll(watches(status, policy, now));
        }
        return new Move(status, effects);
    }

    private static Move stop(Underway status, Stop stop, String note, RunPolicy policy, Instant now) {
        var effects = new ArrayList<Effect>();
        effects.add(new Note(now, note));
        effects.addAll(stopping(stop, policy));
        return new Move(new Underway(status.since(), status.identity(), stop, status.tries()), effects);
    }

    private static List<Effect> stopping(Stop stop, RunPolicy policy) {
        return policy.parent()
                ? List.of(new StopChildren(stop.by()))
                : List.of(new Signal(Force.ASK), new LookAgain(policy.patience()));
    }

    private static String forced(Underway status, RunPolicy policy) {
        int tries = status.tries().number();
        return (tries == 1 ? "did not stop" : "try " + tries + " did not stop") + " within "
                + Words.duration(policy.patience()) + "; ended by force";
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
        return switch (stop.why()) {
            case LIMIT -> timedOut("its time limit of " + words(policy.timeLimit()) + after);
            case TOTAL -> timedOut("its limit of " + words(policy.total()) + " over all tries" + after);
            case WINDOW -> timedOut("the end of its window" + after);
            default -> new Ending(RunState.CANCELLED, "cancelled by " + stop.by() + after);
        };
    }

    /** What was over before it could be told to stop ended as it did: it is not done twice, and not called cut short. */
    private static Ending untold(Ending ending) {
        return new Ending(ending.state(), ending.message() + "; it was over before it could be told to stop");
    }

    private static Ending timedOut(String at) {
        return new Ending(RunState.TIMED_OUT, "stopped at " + at);
    }

    private static String words(Optional<Duration> limit) {
        return limit.map(Words::duration).orElse("");
    }

    private static String noteOf(Why why) {
        return switch (why) {
            case TOTAL -> "reached its limit over all tries; asked to stop";
            case WINDOW -> "its window is over; asked to stop";
            default -> "reached its time limit; asked to stop";
        };
    }

    /** A window ends by the clock, which may be set; a limit when its time is over, whatever the clock says. */
    private static List<Effect> watches(Underway status, RunPolicy policy, Instant now) {
        var watches = new ArrayList<Effect>();
        limit(status, policy, now).ifPresent(limit -> watches.add(new LookAgain(limit.left())));
        policy.stopAt().ifPresent(end -> watches.add(new WatchClock(end)));
        return watches;
    }

    /** The limit that comes first, and how much is left until then. */
    private record Limit(Why why, Duration left) {}

    private static Optional<Limit> limit(Underway status, RunPolicy policy, Instant now) {
        var limits = new ArrayList<Limit>();
        policy.timeLimit()
                .ifPresent(limit -> limits.add(new Limit(
                        Why.LIMIT, Duration.between(now, status.since().plus(limit)))));
        policy.total()
                .ifPresent(total -> limits.add(new Limit(
                        Why.TOTAL, Duration.between(now, status.tries().began().plus(total)))));
        return limits.stream()
                .min(Comparator.comparing(Limit::left))
                .map(first -> new Limit(first.why(), atLeastZero(first.left())));
    }

    private static Duration atLeastZero(Duration duration) {
        return duration.isNegative() ? Duration.ZERO : duration;
    }
}
