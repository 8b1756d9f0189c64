package org.gantrel.core.run;

import java.time.Instant;
import java.util.Optional;

/** Something that happens to a run. Whether it moves the run is {@link RunLife}'s to say. */
public sealed interface RunEvent {

    /** It may begin. @param at when; now, or the moment it is planned for where that is a little later */
    record Admitted(Instant at, String identity) implements RunEvent {}

    /** It may not begin yet. */
    record HeldBack(String by) implements RunEvent {}

    /** Somebody wants it to end. */
    record CancelAsked(String by) implements RunEvent {}

    /** Its time limit is over, or that over all tries. */
    record LimitReached() implements RunEvent {}

    /** The clock says that the window has ended in which it was to run. */
    record WindowOver() implements RunEvent {}

    /** It was asked to stop and has had its time for that. */
    record PatienceEnded() implements RunEvent {}

    /**
     * Its work cannot be begun.
     *
     * @param unsure whether it may have begun all the same; it is not tried again then, or it might be done twice
     */
    record Refused(String why, boolean unsure) implements RunEvent {
        /** Certainly nothing has begun. */
        public Refused(String why) {
            this(why, false);
        }
    }

    /**
     * Its work is over.
     *
     * @param ending how it ended by itself; who stops a run does not ask for it
     * @param doubt what is not known of its end; empty where all is known
     * @param code the exit code of a command
     * @param untold whether it was over before anybody could tell it to stop
     */
    record Done(Ending ending, String doubt, Optional<Integer> code, boolean untold) implements RunEvent {
        public Done(Ending ending) {
            this(ending, "", Optional.empty(), false);
        }
    }

    /** It comes too late, or not at all, by what its definition says; it has not begun. */
    record NotWanted(Ending ending) implements RunEvent {}

    /** Somebody wants its next try now. */
    record TryNow(String by) implements RunEvent {}

    /** Somebody wants no further try. */
    record GiveUp(String by) implements RunEvent {}

    /**
     * It goes on after it had ended: a chain that somebody repaired.
     *
     * @param how from where, in words that follow "goes on"
     */
    record TakenUp(String by, String how) implements RunEvent {}

    /** The service is there again, and the run was under way when it went. */
    record FoundAgain() implements RunEvent {}
}
