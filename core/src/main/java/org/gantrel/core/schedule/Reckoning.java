package org.gantrel.core.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.when.Timetable;

/**
 * Accounts for the due occurrences of one schedule, each exactly once. An occurrence that comes within the grace of its
 * time starts; an older one, which nobody was there to start, is missed.
 *
 * @param grace how late a start may be and still be a start
 */
public record Reckoning(Duration grace) {

    /** Accounts are kept in portions, so that a long absence does not become one long transaction. */
    public static final int MOST_AT_ONCE = 500;

    /** One due occurrence and what becomes of it. */
    public record Account(Instant at, boolean starts) {}

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
     */
    public Result reckon(Timetable timetable, ZoneId zone, Instant first, Instant now) {
        var accounts = new ArrayList<Account>();
        Optional<Instant> next = Optional.of(first);
        while (next.isPresent() && !next.get().isAfter(now) && accounts.size() < MOST_AT_ONCE) {
            Instant at = next.get();
            accounts.add(new Account(at, !at.plus(grace).isBefore(now)));
            next = timetable.next(at, zone);
        }
        return new Result(accounts, next);
    }
}
