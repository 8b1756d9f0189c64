package org.gantrel.core.run;

import java.time.Instant;

/** Where a run is in its life: it waits, it is under way, or it has ended. What holds only then stands only there. */
public sealed interface RunStatus {

    /** The one word for it. */
    RunState state();

    /**
     * It waits.
     *
     * @param what for what; empty where nobody has looked at it yet
     */
    record Waiting(String what) implements RunStatus {
        public static final Waiting FRESH = new Waiting("");

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
     */
    record Underway(Instant since, String identity, Stop stop) implements RunStatus {
        @Override
        public RunState state() {
            return RunState.RUNNING;
        }
    }

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
            LIMIT
        }

        public boolean isAsked() {
            return why != Why.NO;
        }
    }
}
