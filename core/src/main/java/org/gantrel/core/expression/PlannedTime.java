package org.gantrel.core.expression;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;

/**
 * The time that a run was planned for, in the zone of its schedule. Values are worked out from it and not from the
 * clock, so that a run that starts late, or again, still covers the right day.
 *
 * @param calendars the working days that expressions may ask for
 */
public record PlannedTime(Instant at, ZoneId zone, NamedDays calendars) {

    public PlannedTime(Instant at, ZoneId zone) {
        this(at, zone, NamedDays.NONE);
    }

    /** The same time with calendars to ask. */
    public PlannedTime knowing(NamedDays named) {
        return new PlannedTime(at, zone, named);
    }

    /** The planned day by the local calendar. */
    public LocalDate date() {
        return local().toLocalDate();
    }

    /** The planned time by the local clock. */
    public LocalDateTime local() {
        return at.atZone(zone).toLocalDateTime();
    }
}
