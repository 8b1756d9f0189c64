package org.gantrel.core.when;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * A rule that stands for instants. It holds no zone of its own: the same rule, read in another zone, gives other
 * instants.
 */
public interface Timetable {

    /** How the rule was written. */
    enum Kind {
        PHRASE,
        CRON,
        RRULE;

        /** The word for it in the command line and in JSON. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** How the rule was written. */
    Kind kind();

    /** The rule in plain English. */
    String phrase();

    /**
     * The same rule with other working days than Monday to Friday. Only phrases that speak of working days depend on
     * them.
     */
    default Timetable workingOn(DaySet working) {
        return this;
    }

    /** The zone that the rule itself names; nothing where it is meant in the zone that it is asked in. */
    default Optional<ZoneId> ownZone() {
        return Optional.empty();
    }

    /** Whether the rule should begin somewhere and does not say where. */
    default boolean needsStart() {
        return false;
    }

    /** The same rule with a start, where it has none of its own. */
    default Timetable startingAt(Instant start, ZoneId zone) {
        return this;
    }

    /** What is odd about the rule itself: days that some months do not have. */
    default List<String> cautions() {
        return List.of();
    }

    /** The first instant strictly after the given one, or nothing where the rule never comes round again. */
    Optional<Instant> next(Instant after, ZoneId zone);

    /**
     * The local times that belong to a day, in seconds since it began, in order and before any change of the clock moves
     * them. A part of the day that goes past midnight belongs to the day on which it begins, so there may be more than a
     * day's seconds.
     */
    int[] secondsOn(long day, ZoneId zone);

    /** The day that an instant of this rule belongs to. */
    default LocalDate dayOf(Instant at, ZoneId zone) {
        return at.atZone(zone).toLocalDate();
    }

    /** Up to {@code count} instants strictly after the given one, in order. */
    default List<Instant> next(Instant after, ZoneId zone, int count) {
        var found = new ArrayList<Instant>(count);
        Optional<Instant> next = next(after, zone);
        while (next.isPresent() && found.size() < count) {
            found.add(next.get());
            next = next(next.get(), zone);
        }
        return found;
    }
}
