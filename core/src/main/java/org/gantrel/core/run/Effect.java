package org.gantrel.core.run;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** What is to be done when a move is written down, and not before. */
public sealed interface Effect {

    /** Begin the work after so long, which is at once or a moment later. */
    record Launch(Duration after) implements Effect {}

    /** Take up work again that was under way. */
    record Follow() implements Effect {}

    /** Ask the work to stop, or end it. */
    record Signal(Force force) implements Effect {
        /** How a stop is told. */
        public enum Force {
            ASK,
            END
        }
    }

    /** Stop all that this run has started. */
    record StopChildren(String by) implements Effect {}

    /** Look at the run again after so long, however the clock goes meanwhile: its limit or its patience ends then. */
    record LookAgain(Duration after) implements Effect {}

    /** Tell the run when the clock has reached that time, whether by going on or by being set: its window ends then. */
    record WatchClock(Instant at) implements Effect {}

    /** Put a line into its timeline. */
    record Note(Instant at, String what) implements Effect {}

    /** Put a line into its timeline that is not in it yet, for what is done again and again until it helps. */
    record NoteOnce(Instant at, String what) implements Effect {}

    /** Keep what is known of a try that is over: the run goes on with the next. @param code its exit code */
    record NextAttempt(Ending last, Instant at, Optional<Integer> code) implements Effect {}

    /** Let go of all that the run held, and tell that it ended. */
    record End() implements Effect {}
}
