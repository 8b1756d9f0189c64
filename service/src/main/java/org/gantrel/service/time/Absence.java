package org.gantrel.service.time;

import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Locale;

/**
 * A time in which the service was not there to start anything.
 *
 * @param up whether it was up all the same
 */
public record Absence(Instant from, Instant until, boolean up) {

    /** A time in which the service was down. */
    public Absence(Instant from, Instant until) {
        this(from, until, false);
    }

    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("d MMM HH:mm:ss", Locale.ENGLISH);

    /** Why nobody started what was due at an instant. */
    public String reasonMissed(Instant at, ZoneId zone) {
        if (at.isAfter(until) || up && at.isBefore(from)) {
            return "the service was too busy to start it in time";
        }
        String span = " from " + TIME.format(from.atZone(zone)) + " to " + TIME.format(until.atZone(zone));
        return up
                ? "nothing went on" + span
                        + ": the machine slept, the service was kept from working, or its clock was put" + " forward"
                : "the service was down" + span;
    }
}
