package org.gantrel.core.sweep;

import java.util.Optional;
import java.util.function.Supplier;
import org.gantrel.core.roster.Roster.AfterFailure;
import org.gantrel.core.run.Emptiness;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Stop;
import org.gantrel.core.text.Words;

/**
 * Decides how a sweep goes on. Pure: from how many of its rows are how far it says how many more may begin, or that it
 * has ended and how.
 *
 * @param atOnce how many rows go at the same time
 * @param afterFailure what follows a row that ended badly
 * @param whenEmpty what it means that there are no rows
 */
public record SweepCourse(int atOnce, AfterFailure afterFailure, Counts rows, Stop stop, Emptiness whenEmpty) {

    /**
     * How many rows are how far.
     *
     * @param pending wait to begin
     * @param underway have a run that has not ended
     * @param leftOut were left out, from the start or when their gates were waited for in vain
     * @param notReached were given up before they began
     */
    public record Counts(
            int pending, int underway, int succeeded, int warned, int failed, int leftOut, int notReached) {}

    /** How many rows may begin now. */
    public int beginning() {
        return begins() ? Math.max(0, Math.min(rows.pending(), atOnce - rows.underway())) : 0;
    }

    /** Whether rows that wait are not begun any more. */
    public boolean givesUp() {
        return !begins() && rows.pending() > 0;
    }

    private boolean begins() {
        return !stop.isAsked() && !(rows.failed() > 0 && afterFailure == AfterFailure.STOP);
    }

    /**
     * How it ended, or nothing while it goes on. Rows that wait and are not begun any more count as not reached.
     *
     * @param firstFailed names the first rows that ended badly
     */
    public Optional<Ending> ending(Supplier<String> firstFailed) {
        if (rows.underway() > 0 || (begins() && rows.pending() > 0)) {
            return Optional.empty();
        }
        int notReached = rows.notReached() + rows.pending();
        String rest = (rows.leftOut() > 0 ? ", " + rows.leftOut() + " left out" : "")
                + (notReached > 0 ? ", " + notReached + " not reached" : "");
        if (stop.isAsked()) {
            return Optional.of(stop.ending(" after " + Words.count(rows.succeeded() + rows.warned(), "row") + rest));
        }
        int all = rows.failed() + rows.warned() + rows.succeeded();
        Optional<Ending> empty =
                all + rows.leftOut() + notReached == 0 ? whenEmpty.ending("there are no rows") : Optional.empty();
        if (empty.isPresent()) {
            return empty;
        }
        if (rows.failed() > 0) {
            return Optional.of(new Ending(
                    RunState.FAILED,
                    rows.failed() + " of " + Words.count(all, "row") + " failed" + rest + ": " + firstFailed.get()));
        }
        return Optional.of(
                rows.warned() > 0
                        ? new Ending(
                                RunState.WARNED,
                                rows.warned() + " of " + Words.count(all, "row") + " with warnings" + rest)
                        : new Ending(RunState.SUCCEEDED, Words.count(all, "row") + " went well" + rest));
    }
}
