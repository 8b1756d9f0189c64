package org.gantrel.service.time;

import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Locale;

/** A time in which the service was not there to start anything. */
public record Absence(Instant from, Instant until) {

    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("d MMM HH:mm:ss", Locale.ENGLISH);

    /** Why nobody started what was due at an instant. */
    public String reasonMissed(Instant at, ZoneId zone) {
        if (at.isAfter(until)) {
            return "the service was too busy to start it in time";
        }
        return "the service was down from " + TIME.format(from.atZone(zone)) + " to " + TIME.format(until.atZone(zone));
    }
}
