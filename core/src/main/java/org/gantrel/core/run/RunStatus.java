package org.gantrel.core.run;

import java.time.Instant;
import java.util.Optional;

/** Where a run is in its life: it waits, it is under way, or it has ended. What holds only then stands only there. */
public sealed interface RunStatus {

    /** The one word for it. */
    RunState state();

    /**
     * It waits.
     *
     * @param what for what; empty where nobody has looked at it yet
     * @param again its next try, where it waits for that
     * @param takenUp whether it had begun, ended, and was taken up again
     */
    record Waiting(String what, Optional<Again> again, boolean takenUp) implements RunStatus {
        public static final Waiting FRESH = new Waiting("", Optional.empty(), false);
        static final Waiting TAKEN_UP = new Waiting("", Optional.empty(), true);

        static Waiting forTry(String what, Again again) {
            return new Waiting(what, Optional.of(again), false);
        }

        @Override
        public RunState state() {
            return RunState.WAITING;
        }
    }

    /**
     * It is under way.
     *
     * @param since when it began, or is to begin
     * @param identity whom it acts as
     * @param tries which try it is
     */
    record Underway(Instant since, String identity, Stop stop, Tries tries) implements RunStatus {
        @Override
        public RunState state() {
            return RunState.RUNNING;
        }
    }

    /**
     * Which try a run is at.
     *
     * @param number counted from 1
     * @param began when the first one began
     */
    record Tries(int number, Instant began) {}

    /**
     * The try that a run waits for.
     *
     * @param at when it comes
     * @param last how the one before ended
     */
    record Again(Tries tries, Instant at, Ending last) {}

    /** It has ended; nothing moves it any more. */
    record Ended(Ending ending, Instant at) implements RunStatus {
        @Override
        public RunState state() {
            return ending.state();
        }
    }

    /**
     * Whether and why it is being stopped.
     *
     * @param by who asked for it; empty for a limit
     */
    record Stop(Why why, String by) {
        public static final Stop NO = new Stop(Why.NO, "");

        /** Why a run is being stopped. */
        public enum Why {
            NO,
            CANCEL,
            /** Its time limit is over. */
            LIMIT,
            /** The limit over all its tries is. */
            TOTAL,
            /** The window is over that it was planned in. */
            WINDOW
        }

        public boolean isAsked() {
            return why != Why.NO;
        }

        /** How what leads others ends once it is stopped. @param after what is to be said of how far it was; may be empty */
        public Ending ending(String after) {
            String how = words() + after;
            return new Ending(why == Why.CANCEL ? RunState.CANCELLED : RunState.TIMED_OUT, how);
        }

        /** What stopped it. */
        public String words() {
            return switch (why) {
                case LIMIT, TOTAL -> "stopped at its time limit";
                case WINDOW -> "stopped at the end of its window";
                default -> "cancelled by " + by;
            };
        }
    }
}
