package org.gantrel.core.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.TreeMap;
import org.gantrel.core.when.DaySet;

/**
 * The starts of a plan, one after the other. What was worked out for a day serves for all of its starts, and only so much
 * is looked at in all: a rule of thousands of times a day, hardly one of which its calendar lets start, would take seconds.
 */
public final class Starts {

    /** Days and times that are looked at: some tens of milliseconds. */
    private static final int MOST_LOOKED_AT = 1_000_000;

    /** What a start makes good of that: who asks for a year of a rule that starts each minute gets it. */
    private static final int START = 5_000;

    /** What has not started within so many days of the last start never will: leap days on a Monday are 40 years apart. */
    private static final long LONGEST_WAIT = 60L * 366;

    private final Plan plan;
    private final NavigableMap<Instant, Optional<LocalDate>> ofDay = new TreeMap<>();
    private Instant at;
    private Instant latest;
    private long day;
    private int looked;
    private boolean over;

    /** @param after before the plan's place in its window is added */
    Starts(Plan plan, Instant after) {
        this.plan = plan;
        this.at = after;
        this.latest = after;
        this.day = plan.moves() ? plan.firstOpenDay(after) : DaySet.NEVER;
    }

    /** The next start; nothing where none comes any more, or where it gave up. */
    public Optional<Plan.Occurrence> next() {
        if (over) {
            return Optional.empty();
        }
        Optional<Plan.Occurrence> found = plan.moves() ? moved() : unmoved();
        over = found.isEmpty();
        looked = over ? looked : Math.max(0, looked - START);
        latest = at;
        return found.map(one -> new Plan.Occurrence(one.at().plus(plan.place()), one.movedFrom(), Optional.empty()));
    }

    /** Up to so many more. */
    public List<Plan.Occurrence> next(int count) {
        var found = new ArrayList<Plan.Occurrence>();
        while (found.size() < count) {
            Optional<Plan.Occurrence> next = next();
            if (next.isEmpty()) {
                break;
            }
            found.add(next.get());
        }
        return found;
    }

    /** Whether it ended because the rule is too dense for its calendar, not because nothing comes. */
    public boolean gaveUp() {
        return looked > MOST_LOOKED_AT;
    }

    private Optional<Plan.Occurrence> unmoved() {
        while (!gaveUp() && !isTooFar()) {
            Optional<Plan.Occurrence> next = plan.unmoved(at);
            if (next.isEmpty()) {
                return next;
            }
            at = next.get().at();
            if (next.get().starts()) {
                return next;
            }
            looked += Plan.DEAR;
            Optional<Instant> eve = plan.eveOfOpening(at);
            if (eve.isEmpty()) {
                return Optional.empty();
            }
            at = eve.get();
        }
        return Optional.empty();
    }

    private Optional<Plan.Occurrence> moved() {
        while (ofDay.isEmpty()) {
            if (day == DaySet.NEVER || gaveUp() || isTooFar()) {
                return Optional.empty();
            }
            Instant eve = LocalDate.ofEpochDay(day).atStartOfDay(plan.zone()).toInstant();
            looked += plan.arrivals(day, this::keep);
            at = ofDay.isEmpty() && eve.isAfter(at) ? eve.minusSeconds(1) : at;
            day = plan.openDayAfter(day);
        }
        var first = ofDay.pollFirstEntry();
        at = first.getKey();
        return Optional.of(new Plan.Occurrence(at, first.getValue(), Optional.empty()));
    }

    private boolean isTooFar() {
        return Duration.between(latest, at).toDays() > LONGEST_WAIT;
    }

    private void keep(Instant start, Optional<LocalDate> movedFrom) {
        if (start.isAfter(at) && plan.isOpenAt(start)) {
            ofDay.putIfAbsent(start, movedFrom);
        }
    }
}
