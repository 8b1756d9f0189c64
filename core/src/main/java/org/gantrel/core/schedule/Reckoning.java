package org.gantrel.core.schedule;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.schedule.CatchUp.Policy;

/**
 * Accounts for the due occurrences of one schedule, each exactly once. An occurrence that comes within the grace of its
 * time starts, and so does an older one that the schedule's catch-up lets start; what remains was missed. One that falls
 * on a wrong day is skipped, whenever it is looked at.
 *
 * @param grace how late a start may be and still be a start
 */
public record Reckoning(Duration grace) {

    /** Accounts are kept in portions, so that a long absence does not become one long transaction. */
    public static final int MOST_AT_ONCE = 500;

    /** What becomes of an occurrence. */
    public enum Fate {
        STARTS,
        MISSED,
        SKIPPED
    }

    /**
     * One due occurrence and what becomes of it.
     *
     * @param reason why it is skipped; empty otherwise
     */
    public record Account(Instant at, Fate fate, String reason) {
        public boolean starts() {
            return fate == Fate.STARTS;
        }
    }

    /**
     * The accounts of one look, and when to look again.
     *
     * @param next the first occurrence that is not accounted for yet; nothing where none comes any more
     */
    public record Result(List<Account> accounts, Optional<Instant> next) {}

    /**
     * Accounts for what is due.
     *
     * @param first the first occurrence that is not accounted for yet
     * @param off until when the schedule was switched off: what came due before that has no grace
     */
    public Result reckon(Plan plan, CatchUp catchUp, Instant first, Instant now, Optional<Instant> off) {
        var due = new ArrayList<Plan.Occurrence>();
        Optional<Plan.Occurrence> next = plan.next(first.minusNanos(1));
        while (next.isPresent() && !next.get().at().isAfter(now) && due.size() < MOST_AT_ONCE) {
            due.add(next.get());
            next = plan.next(next.get().at());
        }
        var accounts = new ArrayList<Account>();
        for (int i = 0; i < due.size(); i++) {
            Plan.Occurrence one = due.get(i);
            boolean later = due.subList(i + 1, due.size()).stream().anyMatch(Plan.Occurrence::starts)
                    || next.isPresent() && !next.get().at().isAfter(now);
            Fate fate = !one.starts()
                    ? Fate.SKIPPED
                    : starts(one.at(), later, catchUp, now, off) ? Fate.STARTS : Fate.MISSED;
            accounts.add(new Account(one.at(), fate, one.skipped().orElse("")));
        }
        return new Result(accounts, next.map(Plan.Occurrence::at));
    }

    /** Whether a start is later than the grace lets pass. */
    public boolean isLate(Instant at, Instant now) {
        return at.plus(grace).isBefore(now);
    }

    private boolean starts(Instant at, boolean laterOnesAreDue, CatchUp catchUp, Instant now, Optional<Instant> off) {
        if (!isLate(at, now) && off.filter(at::isBefore).isEmpty()) {
            return true;
        }
        boolean young = !at.plus(catchUp.within()).isBefore(now);
        return young && (catchUp.policy() == Policy.EACH || catchUp.policy() == Policy.LATEST && !laterOnesAreDue);
    }
}
